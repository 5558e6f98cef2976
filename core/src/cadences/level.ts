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
 * Spreads starts so that as many fit as can, the highest day is as low as can be, and then the starts as early as can be. It is the lowest
 * peak there is (to half a minute) as far as the search comes within `mostSteps`; beyond it, the lowest ceiling under which it found a way.
 * @example levelStarts({ count: 2, pattern: [40, 40], load: [], capacity: [60], days: 3 }).starts; // [0, 2]
 */
export function levelStarts(request: LevelRequest): LeveledStarts {
  const wanted = mostThatFit(request);
  // No spreading brings the highest day below what is planned already, so nobody waits for more than that.
  const floor = Math.max(0, ...request.load);
  const atFloor = place(request, floor, wanted);
  if (atFloor !== null) return leveled(request, atFloor);
  let best = leveled(request, place(request, Infinity, wanted)!);
  let low = floor;
  let high = best.peak;
  while (high - low > closeEnough) {
    const ceiling = (low + high) / 2;
    const tried = place(request, ceiling, wanted);
    if (tried === null) low = ceiling;
    else {
      best = leveled(request, tried);
      high = Math.min(ceiling, best.peak);
    }
  }
  return best;
}

/** Half a minute. */
const closeEnough = 0.5;
/** How many days' starts one search may try. */
const mostSteps = 20_000;

/** How many can start at all, each day within its capacity. */
function mostThatFit(request: LevelRequest): number {
  let fits = 0;
  let over = request.count + 1;
  while (over - fits > 1) {
    const count = Math.ceil((fits + over) / 2);
    if (place(request, Infinity, count) === null) over = count;
    else fits = count;
  }
  return fits;
}

/** How many start on each day so that `wanted` do and no day goes over the ceiling, the earliest first; null when no way was found. */
function place(
  { pattern, load, capacity, days }: LevelRequest,
  ceiling: number,
  wanted: number,
): number[] | null {
  const room = (day: number) =>
    Math.min(ceiling, capacity[day] ?? capacity.at(-1) ?? 0) - (load[day] ?? 0) + 1e-9;
  const rooms = Array.from({ length: days + pattern.length }, (_, day) => room(day));
  const starts: number[] = [];
  let steps = 0;
  /** What fits on a day as it is now, were it the only one. */
  const fitOn = (day: number): number =>
    Math.max(
      0,
      Math.floor(
        Math.min(
          wanted,
          ...pattern.map((minutes, after) => (minutes === 0 ? Infinity : rooms[day + after]! / minutes)),
        ),
      ),
    );
  const take = (day: number, count: number) =>
    pattern.forEach((minutes, after) => {
      rooms[day + after]! -= minutes * count;
    });
  const search = (day: number, left: number): boolean => {
    if (left === 0) return true;
    if (day >= days) return false;
    let mostAhead = 0;
    for (let at = day; at < days && mostAhead < left; at += 1) mostAhead += fitOn(at);
    if (mostAhead < left) return false;
    for (let count = Math.min(left, fitOn(day)); count >= 0; count -= 1) {
      steps += 1;
      if (steps > mostSteps) return false;
      starts[day] = count;
      take(day, count);
      if (search(day + 1, left - count)) return true;
      take(day, -count);
    }
    starts.length = day;
    return false;
  };
  return search(0, wanted) ? starts : null;
}

function leveled({ count, pattern, load }: LevelRequest, startsOn: readonly number[]): LeveledStarts {
  const filled = [...load];
  const starts: (number | null)[] = [];
  startsOn.forEach((many, day) => {
    for (let n = 0; n < many; n += 1) starts.push(day);
    pattern.forEach((minutes, after) => {
      if (many > 0) filled[day + after] = (filled[day + after] ?? 0) + minutes * many;
    });
  });
  const whole = Array.from(filled, (minutes: number | undefined) => minutes ?? 0);
  const left = Array.from({ length: count - starts.length }, () => null);
  return { starts: [...starts, ...left], load: whole, peak: Math.max(0, ...whole) };
}
