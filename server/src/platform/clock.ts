import type { Instant } from '@kettle/contract';

export interface Clock {
  now(): Instant;
  millis(): number;
}

/** A clock that starts at `startAt` and runs on; the real time without it. The only place that reads the machine's clock. */
export function makeClock(startAt?: Instant): Clock {
  const shift = startAt === undefined ? 0 : Date.parse(startAt) - Date.now();
  const millis = () => Date.now() + shift;
  return { millis, now: () => new Date(millis()).toISOString() };
}
