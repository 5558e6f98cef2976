import type { Candidate, Horizon } from './candidate';
import { costOfWaiting, lowestPrice, type Waiting } from './cost';

/** One row of the Round: the candidate that leads it, and the others on the same person and purpose. */
export interface RankedRow {
  readonly lead: Candidate;
  readonly merged: readonly Candidate[];
  /** Of the one that leads. */
  readonly waiting: Waiting;
  /** Minutes of all the different acts it stands for. */
  readonly minutes: number;
  /** What leaving it costs for each of these minutes: its place. */
  readonly measure: number;
}

/**
 * Orders candidates into rows: by cost of waiting per expected minute (the ratio order of Smith 1956), equal ones by
 * earlier due day, then by key. Items promised for a time stand where the free minutes before them end; pinned ones
 * stand first, in the order of their keys. The result does not depend on the order of the input.
 */
export function rankRound(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const rows = sortByMeasure(mergeByGroup(candidates, horizon));
  if (!rows.some((row) => row.lead.pinned || row.lead.fixedAfterMinutes !== null)) return rows;
  const pinned = rows.filter((row) => row.lead.pinned);
  const fixed = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes !== null);
  const others = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes === null);
  return [...pinned.sort((a, b) => compareKeys(a.lead, b.lead)), ...placeFixed(others, fixed)];
}

const nobody: readonly Candidate[] = [];

function mergeByGroup(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const lowest = lowestPrice(horizon);
  const rows: RankedRow[] = [];
  const placeOf = new Map<string, number>();
  const shared = new Map<number, RankedRow[]>();
  for (const lead of candidates) {
    const waiting = costOfWaiting(lead, horizon, lowest);
    const { minutes } = lead;
    const row: RankedRow = { lead, merged: nobody, waiting, minutes, measure: waiting.costPerMinute };
    const place = placeOf.get(lead.group);
    if (place === undefined) {
      placeOf.set(lead.group, rows.length);
      rows.push(row);
      continue;
    }
    const group = shared.get(place);
    if (group) group.push(row);
    else shared.set(place, [rows[place]!, row]);
  }
  for (const [place, group] of shared) rows[place] = mergedRow(group);
  return rows;
}

/**
 * Dearest minute first. The measures are sorted as bare numbers and lead back to their rows; only rows of one same
 * measure are compared with each other, which sorts twenty thousand rows several times faster than comparing all.
 */
function sortByMeasure(rows: readonly RankedRow[]): RankedRow[] {
  const byMeasure = new Map<number, RankedRow | RankedRow[]>();
  const measures = new Float64Array(rows.length);
  rows.forEach((row, index) => {
    const { measure } = row;
    measures[index] = measure;
    const equal = byMeasure.get(measure);
    if (equal === undefined) byMeasure.set(measure, row);
    else if (Array.isArray(equal)) equal.push(row);
    else byMeasure.set(measure, [equal, row]);
  });
  measures.sort();
  const sorted: RankedRow[] = [];
  for (let index = measures.length - 1; index >= 0; index -= 1) {
    if (measures[index] === measures[index + 1]) continue;
    const found = byMeasure.get(measures[index]!)!;
    if (!Array.isArray(found)) sorted.push(found);
    else for (const row of found.sort((a, b) => compareDue(eldestOf(a), eldestOf(b)))) sorted.push(row);
  }
  return sorted;
}

/**
 * The dearest candidate leads; a promise for a time, a pin or a deadline of any of them holds for the row, and a promised visit stays a
 * visit. One call does for all that is to be said in it: different acts are those on different channels.
 */
function mergedRow(group: RankedRow[]): RankedRow {
  group.sort((a, b) => b.waiting.costPerMinute - a.waiting.costPerMinute || compareDue(a.lead, b.lead));
  const [first, ...rest] = group as [RankedRow, ...RankedRow[]];
  const all = group.map((each) => each.lead);
  const promised = all.find(({ fixedAfterMinutes }) => fixedAfterMinutes !== null);
  const lead: Candidate = {
    ...first.lead,
    channel: promised?.channel ?? first.lead.channel,
    fixedAfterMinutes: lowest(all.map((each) => each.fixedAfterMinutes)),
    deadlineDay: lowest(all.map((each) => each.deadlineDay)),
    pinned: all.some((each) => each.pinned),
    timesMoved: Math.max(...all.map((each) => each.timesMoved)),
  };
  const channels = [...new Set(group.map((each) => each.lead.channel))];
  const acts = channels.map((channel) => group.filter((each) => each.lead.channel === channel));
  const sum = (of: (row: RankedRow) => number) =>
    acts.reduce((total, rows) => total + Math.max(...rows.map(of)), 0);
  const minutes = sum((row) => row.lead.minutes);
  const measure = sum((row) => row.waiting.cost) / minutes;
  return { lead, merged: rest.map((each) => each.lead), waiting: first.waiting, minutes, measure };
}

function lowest(values: readonly (number | null)[]): number | null {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? null : Math.min(...known);
}

/** By which a row stands among equals: whoever leads it, the one of its reasons that is due first. */
const eldestOf = ({ lead, merged }: RankedRow): Candidate =>
  merged.reduce((eldest, each) => (compareDue(each, eldest) < 0 ? each : eldest), lead);

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
    while (waiting.length > 0 && elapsed + row.minutes > waiting[0]!.lead.fixedAfterMinutes!) {
      const next = waiting.shift()!;
      placed.push(next);
      elapsed = Math.max(elapsed, next.lead.fixedAfterMinutes!) + next.minutes;
    }
    placed.push(row);
    elapsed += row.minutes;
  }
  return [...placed, ...waiting];
}
