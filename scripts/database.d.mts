export interface RunningDatabase {
  readonly url: string;
  readonly socket: string;
  readonly isNew: boolean;
  urlOf(schema: string): string;
  ended(): Promise<string>;
  restart(more?: readonly string[]): Promise<void>;
  stop(): Promise<void>;
  kill(): void;
  signal(name: NodeJS.Signals): void;
}
/** A port of this machine that nobody listens at. */
export function freePort(): Promise<number>;
export function startDatabase(
  name: string,
  options?: { isForTests?: boolean; isInMemory?: boolean; options?: readonly string[] },
): Promise<RunningDatabase>;
