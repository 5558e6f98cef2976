import type { Candidate, Horizon } from './candidate';
import { costOfWaiting, dayPrices, type Waiting } from './cost';

/** One row of the Round: the candidate that leads it, and the others on the same person and purpose. */
export interface RankedRow {
  readonly lead: Candidate;
  readonly merged: readonly Candidate[];
  readonly waiting: Waiting;
}

interface Scored {
  readonly candidate: Candidate;
  readonly waiting: Waiting;
}

/**
 * Orders candidates into rows: by cost of waiting per expected minute (the ratio order of Smith 1956), equal ones by
 * earlier due day, then by key. Items promised for a time stand where the free minutes before them end; pinned ones
 * stand first, in the order of their keys. The result does not depend on the order of the input.
 */
export function rankRound(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const rows = mergeByGroup(candidates, horizon);
  rows.sort(byMeasure);
  const pinned = rows.filter((row) => row.lead.pinned);
  const fixed = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes !== null);
  if (pinned.length === 0 && fixed.length === 0) return rows;
  const others = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes === null);
  return [...pinned.sort((a, b) => compareKeys(a.lead, b.lead)), ...placeFixed(others, fixed)];
}

function mergeByGroup(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const prices = dayPrices(horizon);
  const groups = new Map<string, Scored | Scored[]>();
  for (const candidate of candidates) {
    const waiting = costOfWaiting(candidate, horizon, prices);
    const scored = { candidate, waiting };
    const known = groups.get(candidate.group);
    if (known === undefined) groups.set(candidate.group, scored);
    else if (Array.isArray(known)) known.push(scored);
    else groups.set(candidate.group, [known, scored]);
  }
  const rows: RankedRow[] = [];
  for (const group of groups.values()) rows.push(Array.isArray(group) ? mergedRow(group) : singleRow(group));
  return rows;
}

const nobody: readonly Candidate[] = [];

function singleRow({ candidate, waiting }: Scored): RankedRow {
  return { lead: candidate, merged: nobody, waiting };
}

/** The dearest candidate leads; a promise for a time, a pin or a deadline of any of them holds for the row. */
function mergedRow(group: Scored[]): RankedRow {
  group.sort(
    (a, b) => b.waiting.costPerMinute - a.waiting.costPerMinute || compareDue(a.candidate, b.candidate),
  );
  const [first, ...rest] = group as [Scored, ...Scored[]];
  const all = group.map((each) => each.candidate);
  const lead: Candidate = {
    ...first.candidate,
    fixedAfterMinutes: lowest(all.map((each) => each.fixedAfterMinutes)),
    deadlineDay: lowest(all.map((each) => each.deadlineDay)),
    pinned: all.some((each) => each.pinned),
    timesMoved: Math.max(...all.map((each) => each.timesMoved)),
  };
  return { lead, merged: rest.map((each) => each.candidate), waiting: first.waiting };
}

function lowest(values: readonly (number | null)[]): number | null {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? null : Math.min(...known);
}

function byMeasure(a: RankedRow, b: RankedRow): number {
  return b.waiting.costPerMinute - a.waiting.costPerMinute || compareDue(a.lead, b.lead);
}

function compareDue(a: Candidate, b: Candidate): number {
  if (a.dueOn !== b.dueOn) return a.dueOn < b.dueOn ? -1 : 1;
  return compareKeys(a, b);
}

function compareKeys(a: Candidate, b: Candidate): number {
  return a.key < b.key ? -1 : a.key > b.key ? 1 : 0;
}

/** Puts each fixed row before the first other row that would run past its time. */
function placeFixed(others: readonly RankedRow[], fixed: readonly RankedRow[]): RankedRow[] {
  const waiting = [...fixed].sort(
    (a, b) => a.lead.fixedAfterMinutes! - b.lead.fixedAfterMinutes! || compareDue(a.lead, b.lead),
  );
  const placed: RankedRow[] = [];
  let elapsed = 0;
  for (const row of others) {
    while (waiting.length > 0 && elapsed + row.lead.minutes > waiting[0]!.lead.fixedAfterMinutes!) {
      const next = waiting.shift()!;
      placed.push(next);
      elapsed = Math.max(elapsed, next.lead.fixedAfterMinutes!) + next.lead.minutes;
    }
    placed.push(row);
    elapsed += row.lead.minutes;
  }
  return [...placed, ...waiting];
}
