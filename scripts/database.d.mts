export interface RunningDatabase {
  readonly url: string;
  readonly socket: string;
  readonly isNew: boolean;
  urlOf(schema: string): string;
  stop(): Promise<void>;
  kill(): void;
}
export function startDatabase(
  name: string,
  options?: { isForTests?: boolean; isInMemory?: boolean },
): Promise<RunningDatabase>;
