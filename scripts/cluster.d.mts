export interface RunningNode {
  readonly name: string;
  readonly url: string;
  readonly socket: string;
  ended(): Promise<string>;
  restart(): Promise<void>;
  kill(): void;
  signal(name: NodeJS.Signals): void;
}
export interface RunningCluster {
  readonly nodes: readonly RunningNode[];
  urlFrom(n: number, schema?: string): string;
  stop(): Promise<void>;
}
export function startCluster(
  name: string,
  options?: { count?: number; isForTests?: boolean; options?: readonly string[] },
): Promise<RunningCluster>;
