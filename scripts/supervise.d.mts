interface Setting {
  readonly isStopping: () => boolean;
  readonly tell: (words: string) => void;
  readonly giveUp: (words: string) => void;
  readonly firstWaitMillis?: number;
  readonly mostWaitMillis?: number;
  readonly calmMillis?: number;
  readonly mostFailures?: number;
}
export function keepRunning(
  name: string,
  start: () => Promise<{ readonly ended: Promise<string> }>,
  setting: Setting,
): Promise<void>;
