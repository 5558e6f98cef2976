import type { Horizon } from './candidate';
import { chanceAfter } from './cost';
import type { RankedRow } from './rank';

export interface BelowRow {
  readonly row: RankedRow;
  /** Horizon day it is proposed to move to; null when none within the horizon has room for it in time. */
  readonly toDay: number | null;
  /** It has a deadline, and no day up to it holds it. */
  readonly willMiss: boolean;
}

export interface Cut {
  readonly above: readonly RankedRow[];
  readonly below: readonly BelowRow[];
}

/**
 * Draws the cut line through ranked rows: rows are taken in order while they fit today's free minutes. Rows fixed to a time are above
 * it in any case, and so are pinned ones and those put there by hand, with their minutes counted; whoever cannot be reached today is below,
 * and what the hand put below stays there. Rows with a deadline are
 * planned over the days up to it, the earliest first: what their later days cannot hold is taken today, and the cheapest other rows give
 * way. Each row below gets the day it would choose at the prices of the days, or the next one with room.
 */
export function drawCutLine(rows: readonly RankedRow[], horizon: Horizon): Cut {
  const isFixed = ({ lead }: RankedRow) =>
    lead.fixedAfterMinutes !== null || lead.pinned || lead.hand?.isToday === true;
  const canToday = (row: RankedRow) =>
    row.lead.reachable?.[0] !== false && (isFixed(row) || row.lead.hand?.isToday !== false);
  const taken = new Set(rows.filter((row) => isFixed(row)));
  const minutesOf = (list: Iterable<RankedRow>) => [...list].reduce((sum, row) => sum + row.minutes, 0);
  const free = Math.max(0, (horizon.days[0]?.freeMinutes ?? 0) - minutesOf(taken));
  let left = free;
  for (const row of rows) {
    if (taken.has(row) || !canToday(row) || row.minutes > left) continue;
    left -= row.minutes;
    taken.add(row);
  }
  const room = horizon.days.map((day, t) => (t === 0 ? 0 : day.freeMinutes));
  const days = new Map<RankedRow, number>();
  const urgent = rows.filter((row) => row.lead.deadlineDay !== null && !taken.has(row));
  const homeless = placeByDeadline(urgent, room, days);
  // What no later day holds is done today, the worthiest first; the cheapest rows without a deadline make room, as long as that costs
  // less.
  const movable = [...rows]
    .reverse()
    .filter((row) => taken.has(row) && !isFixed(row) && row.lead.deadlineDay === null);
  for (const row of homeless.filter(canToday)) {
    const given: RankedRow[] = [];
    let gained = left;
    for (const other of movable) {
      if (gained >= row.minutes) break;
      if (!taken.has(other)) continue;
      given.push(other);
      gained += other.minutes;
    }
    const lost = given.reduce((sum, other) => sum + other.measure * other.minutes, 0);
    // Only for less than it brings.
    if (gained < row.minutes || lost >= worth(row) * row.minutes) continue;
    given.forEach((other) => taken.delete(other));
    taken.add(row);
    left = gained - row.minutes;
  }
  const above = rows.filter((row) => taken.has(row));
  const over = rows.filter((row) => !taken.has(row));
  return { above, below: proposeDays(over, { room, days }) };
}

/** Worth of a minute today, by which rows with a deadline are given up. */
const worth = ({ lead, minutes }: RankedRow) => (lead.stakeMinor * chanceAfter(lead.decay, 0, 0)) / minutes;

/**
 * Earliest deadline first into the days before each; where one does not fit, the least worthy of those placed gives up its day, as in
 * Moore 1968 with worth in place of length.
 * @returns those that fit on no later day in time, the worthiest first
 */
function placeByDeadline(
  rows: readonly RankedRow[],
  room: number[],
  days: Map<RankedRow, number>,
): RankedRow[] {
  const homeless: RankedRow[] = [];
  const byDeadline = [...rows].sort((a, b) => a.lead.deadlineDay! - b.lead.deadlineDay!);
  for (const row of byDeadline) {
    const place = firstDayWithRoom(row, room);
    if (place !== null) {
      days.set(row, place);
      room[place]! -= row.minutes;
      continue;
    }
    const rival = [...days]
      .filter(([other, day]) => {
        const isIn = day <= row.lead.deadlineDay! && row.lead.reachable?.[day] !== false;
        return isIn && worth(other) < worth(row) && room[day]! + other.minutes >= row.minutes;
      })
      .sort(([a], [b]) => worth(a) - worth(b))[0];
    if (rival === undefined) {
      homeless.push(row);
      continue;
    }
    const [other, day] = rival;
    days.delete(other);
    days.set(row, day);
    room[day]! += other.minutes - row.minutes;
    homeless.push(other);
  }
  return homeless.sort((a, b) => worth(b) - worth(a));
}

function proposeDays(
  rows: readonly RankedRow[],
  { room, days }: { readonly room: number[]; readonly days: ReadonlyMap<RankedRow, number> },
): BelowRow[] {
  return rows.map((row) => {
    const given = days.get(row) ?? (row.lead.deadlineDay === null ? likedDay(row, room) : null);
    if (given !== null && !days.has(row)) room[given]! -= row.minutes;
    return { row, toDay: given, willMiss: given === null && row.lead.deadlineDay !== null };
  });
}

/** The day it would choose at the prices, or the next one with room; before it only when no later one has any. */
function likedDay(row: RankedRow, room: readonly number[]): number | null {
  return firstDayWithRoom(row, room, row.laterDay ?? 1) ?? firstDayWithRoom(row, room);
}

function firstDayWithRoom({ lead, minutes }: RankedRow, room: readonly number[], from = 1): number | null {
  const last = Math.min(room.length - 1, lead.deadlineDay ?? Infinity);
  for (let day = Math.max(1, from); day <= last; day += 1)
    if (room[day]! >= minutes && lead.reachable?.[day] !== false) return day;
  return null;
}
