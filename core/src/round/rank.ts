import type { Candidate, Horizon } from './candidate';
import { findLeast, lowestPrice } from './cost';
import { placeByHand } from './hand';

/** One row of the Round: the candidate that leads it, and the others on the same person and purpose. */
export interface RankedRow {
  readonly lead: Candidate;
  readonly merged: readonly Candidate[];
  /** Of the one that leads: the best later day, as index into the horizon; null when none is worth its minutes. */
  readonly laterDay: number | null;
  /** Minutes of all the different acts it stands for. */
  readonly minutes: number;
  /** What leaving it costs for each of these minutes: its place. */
  readonly measure: number;
}

/**
 * Orders candidates into rows: by cost of waiting per expected minute (the ratio order of Smith 1956), equal ones by
 * earlier due day, then by key. Items promised for a time stand where the free minutes before them end; pinned ones
 * stand first, in the order of their keys, and those put by hand keep their order. The result does not depend on the order of the input.
 */
export function rankRound(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const rows = sortByMeasure(mergeByGroup(candidates, horizon));
  if (!rows.some(({ lead }) => lead.pinned || lead.fixedAfterMinutes !== null || lead.hand)) return rows;
  const pinned = rows.filter((row) => row.lead.pinned);
  const fixed = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes !== null);
  const others = rows.filter((row) => !row.lead.pinned && row.lead.fixedAfterMinutes === null);
  const placed = placeByHand(
    others.filter(({ lead }) => !lead.hand),
    others.filter(({ lead }) => lead.hand),
  );
  return [...pinned.sort((a, b) => compareKeys(a.lead, b.lead)), ...placeFixed(placed, fixed)];
}

const nobody: readonly Candidate[] = [];

function mergeByGroup(candidates: readonly Candidate[], horizon: Horizon): RankedRow[] {
  const lowest = lowestPrice(horizon);
  const groups = new Map<string, RankedRow | RankedRow[]>();
  for (const lead of candidates) {
    const { minutes, group } = lead;
    const row = findLeast(lead, horizon, lowest, {
      lead,
      merged: nobody,
      minutes,
      measure: 0,
      laterDay: null,
    });
    const found = groups.get(group);
    if (found === undefined) groups.set(group, row);
    else if (Array.isArray(found)) found.push(row);
    else groups.set(group, [found, row]);
  }
  const rows: RankedRow[] = [];
  for (const group of groups.values()) rows.push(Array.isArray(group) ? mergedRow(group) : group);
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
  group.sort((a, b) => b.measure - a.measure || compareDue(a.lead, b.lead));
  const first = group[0]!;
  const merged: Candidate[] = [];
  let { channel, fixedAfterMinutes, deadlineDay, pinned, timesMoved, hand } = first.lead;
  let isPromised = fixedAfterMinutes !== null;
  let minutes = 0;
  let cost = 0;
  // Written out flat: a Round has thousands of groups, and lists made on the way would cost the most.
  for (let at = 0; at < group.length; at += 1) {
    const { lead } = group[at]!;
    if (at > 0) merged.push(lead);
    if (!isPromised && lead.fixedAfterMinutes !== null) {
      isPromised = true;
      channel = lead.channel;
    }
    fixedAfterMinutes = lower(fixedAfterMinutes, lead.fixedAfterMinutes);
    deadlineDay = lower(deadlineDay, lead.deadlineDay);
    pinned ||= lead.pinned;
    if (lead.hand && (!hand || lead.hand.order < hand.order)) hand = lead.hand;
    timesMoved = Math.max(timesMoved, lead.timesMoved);
    let [longest, dearest] = [0, 0];
    for (let other = 0; other < group.length; other += 1) {
      const each = group[other]!;
      if (each.lead.channel !== lead.channel) continue;
      // Counted with the first of its channel.
      if (other < at) break;
      longest = Math.max(longest, each.minutes);
      dearest = Math.max(dearest, each.measure * each.minutes);
    }
    minutes += longest;
    cost += dearest;
  }
  const lead: Candidate = { ...first.lead, channel, fixedAfterMinutes, deadlineDay, pinned, timesMoved };
  // Written only where there is one: another property on each of thousands of copies costs as much as all the ranking.
  if (hand && hand !== lead.hand)
    return { lead: { ...lead, hand }, merged, laterDay: first.laterDay, minutes, measure: cost / minutes };
  return { lead, merged, laterDay: first.laterDay, minutes, measure: cost / minutes };
}

const lower = (one: number | null, other: number | null): number | null =>
  one === null ? other : other === null ? one : Math.min(one, other);

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
