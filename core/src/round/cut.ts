import { fewestLate } from './deadlines';
import type { Horizon } from './candidate';
import type { RankedRow } from './rank';

export interface BelowRow {
  readonly row: RankedRow;
  /** Horizon day it is proposed to move to; null when none within the horizon has room for it in time. */
  readonly toDay: number | null;
  /** It has a deadline, and no day with room lies before it. */
  readonly willMiss: boolean;
}

export interface Cut {
  readonly above: readonly RankedRow[];
  readonly below: readonly BelowRow[];
  /** Best value per minute, in minor units, that stayed below the line: what today teaches about the price of a minute. */
  readonly bestBelowPerMinute: number;
}

/**
 * Draws the cut line through ranked rows: rows are taken in order while they fit today's free minutes; rows fixed to a
 * time, and rows whose deadline is today or before the next day with room, are above it in any case. Each row below
 * gets the first day with room before its deadline; deadlines are served first, giving up as few as possible.
 */
export function drawCutLine(rows: readonly RankedRow[], horizon: Horizon): Cut {
  const nextDay = horizon.days.findIndex((day, index) => index > 0 && day.freeMinutes > 0);
  const isMust = (row: RankedRow) =>
    row.lead.fixedAfterMinutes !== null ||
    (row.lead.deadlineDay !== null && (nextDay < 0 || row.lead.deadlineDay < nextDay));
  const mustMinutes = rows.reduce((sum, row) => sum + (isMust(row) ? row.lead.minutes : 0), 0);
  let left = Math.max(0, (horizon.days[0]?.freeMinutes ?? 0) - mustMinutes);
  const above: RankedRow[] = [];
  const over: RankedRow[] = [];
  for (const row of rows) {
    if (isMust(row)) above.push(row);
    else if (row.lead.minutes <= left) {
      left -= row.lead.minutes;
      above.push(row);
    } else over.push(row);
  }
  return { above, below: proposeDays(over, horizon), bestBelowPerMinute: bestValuePerMinute(over) };
}

function proposeDays(rows: readonly RankedRow[], horizon: Horizon): BelowRow[] {
  const room = horizon.days.map((day) => day.freeMinutes);
  room[0] = 0;
  const given = new Map<RankedRow, number | null>();
  const late = new Set(fewestLate(deadlineJobs(rows, horizon)));
  const firstServed = rows.filter((row) => row.lead.deadlineDay !== null && !late.has(row.lead.key));
  for (const row of [...firstServed.sort((a, b) => a.lead.deadlineDay! - b.lead.deadlineDay!), ...rows]) {
    if (given.has(row)) continue;
    const day = firstDayWithRoom(row, room);
    given.set(row, day);
    if (day !== null) room[day]! -= row.lead.minutes;
  }
  return rows.map((row) => {
    const toDay = given.get(row) ?? null;
    return { row, toDay, willMiss: toDay === null && row.lead.deadlineDay !== null };
  });
}

function deadlineJobs(rows: readonly RankedRow[], horizon: Horizon) {
  const upTo = (day: number) =>
    horizon.days.slice(1, day + 1).reduce((sum, each) => sum + each.freeMinutes, 0);
  return rows
    .filter((row) => row.lead.deadlineDay !== null)
    .map(({ lead }) => ({ key: lead.key, minutes: lead.minutes, dueAfterMinutes: upTo(lead.deadlineDay!) }));
}

function firstDayWithRoom(row: RankedRow, room: readonly number[]): number | null {
  const { minutes, reachable, deadlineDay } = row.lead;
  const last = Math.min(room.length - 1, deadlineDay ?? Infinity);
  for (let day = 1; day <= last; day += 1)
    if (room[day]! >= minutes && reachable?.[day] !== false) return day;
  return null;
}

function bestValuePerMinute(rows: readonly RankedRow[]): number {
  return rows.reduce(
    (best, { lead, waiting }) => Math.max(best, (lead.stakeMinor * waiting.chanceToday) / lead.minutes),
    0,
  );
}
