import type { Instant } from '@kettle/contract';

export interface Clock {
  now(): Instant;
  millis(): number;
  /** By how many milliseconds it is ahead of the machine's own clock: 0, but for the demo's and the tests'. */
  ahead(): number;
}

/** A clock that starts at `startAt` and runs on; the real time without it. The only place that reads the machine's clock. */
export function makeClock(startAt?: Instant): Clock {
  return clockAhead(startAt === undefined ? 0 : Date.parse(startAt) - Date.now());
}

/** A clock that is ahead of the machine's own by so many milliseconds, like one that another thread has. */
export function clockAhead(ahead: number): Clock {
  const millis = () => Date.now() + ahead;
  return { millis, now: () => new Date(millis()).toISOString(), ahead: () => ahead };
}

/** A clock that stands at one moment. */
export function stoppedClock(at: Instant): Clock {
  const millis = Date.parse(at);
  return { now: () => at, millis: () => millis, ahead: () => millis - Date.now() };
}
