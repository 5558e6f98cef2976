/** What is to be spread over the coming working days; all minutes, all lists by working day from today on. */
export interface LevelRequest {
  /** How many people are to start, in the order that is kept. */
  readonly count: number;
  /** What one start costs on its first day, the day after, and so on. */
  readonly pattern: readonly number[];
  /** What is planned already. Beyond its end nothing is. */
  readonly load: readonly number[];
  /** What a day can hold. Beyond its end a day holds as much as the last. */
  readonly capacity: readonly number[];
  /** Starts fall within this many working days. */
  readonly days: number;
}

export interface LeveledStarts {
  /** The working day of each start, 0 for today, never earlier than the one before; null for who does not fit. */
  readonly starts: readonly (number | null)[];
  readonly load: readonly number[];
  /** The highest day after the starts, in minutes. */
  readonly peak: number;
}

/**
 * Spreads starts so that the highest day stays as low as earliest fits under a common ceiling can make it: the lowest
 * ceiling is searched under which as many fit as fit at all. A start fits on the first day from the one before it on
 * which none of its days goes over the ceiling or the capacity. For patterns of one day it is the lowest peak there is.
 */
export function levelStarts(request: LevelRequest): LeveledStarts {
  const most = place(request, Infinity);
  const wanted = most.starts.filter((start) => start !== null).length;
  // No spreading brings the highest day below what is planned already, so nobody waits for more than that.
  const floor = Math.max(0, ...request.load);
  const atFloor = place(request, floor);
  if (atFloor.starts.filter((start) => start !== null).length === wanted) return atFloor;
  let low = floor;
  let high = most.peak;
  let best = most;
  while (high - low > 0.5) {
    const ceiling = (low + high) / 2;
    const tried = place(request, ceiling);
    if (tried.starts.filter((start) => start !== null).length < wanted) low = ceiling;
    else {
      best = tried;
      high = Math.min(ceiling, tried.peak);
    }
  }
  return best;
}

function place({ count, pattern, load, capacity, days }: LevelRequest, ceiling: number): LeveledStarts {
  const filled = [...load];
  const roomOn = (day: number) =>
    Math.min(ceiling, capacity[day] ?? capacity.at(-1) ?? 0) - (filled[day] ?? 0);
  const fits = (start: number) =>
    pattern.every((minutes, after) => minutes === 0 || minutes <= roomOn(start + after) + 1e-9);
  let from = 0;
  const starts = Array.from({ length: count }, () => {
    while (from < days && !fits(from)) from += 1;
    if (from >= days) return null;
    pattern.forEach((minutes, after) => {
      filled[from + after] = (filled[from + after] ?? 0) + minutes;
    });
    return from;
  });
  const whole = Array.from(filled, (minutes: number | undefined) => minutes ?? 0);
  return { starts, load: whole, peak: Math.max(0, ...whole) };
}
