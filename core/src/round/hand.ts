import type { RankedRow } from './rank';

/** Where the hand put a row, for the day. */
export interface HandPlace {
  /** Among all that were put by hand, from the top: no recomputation changes it. */
  readonly order: number;
  /** What its minutes would have to be worth to stand there by themselves, in minor units a minute. */
  readonly measure: number;
  /** Among rows that are worth the same: the key of the one it was put right below; null when it is before them. */
  readonly after: string | null;
  /** Whether it was put above the line where the day's free minutes end. */
  readonly isToday: boolean;
}

/**
 * Puts rows back where the hand put them, among rows ordered by cost of waiting. Those put by hand keep their order among each other;
 * every other row is before them when a minute of it is worth more, else behind them. So new rows come in around them.
 * @param others by measure, the dearest first
 * @param placed rows with a place by hand, in any order
 */
export function placeByHand(others: readonly RankedRow[], placed: readonly RankedRow[]): RankedRow[] {
  const result: RankedRow[] = [];
  let next = 0;
  let lowest = Infinity;
  for (const row of [...placed].sort(byHand)) {
    const { measure, after } = row.lead.hand!;
    lowest = Math.min(lowest, measure);
    while (next < others.length && others[next]!.measure > lowest) result.push(others[next++]!);
    let last = next;
    while (after !== null && others[last]?.measure === lowest && !isKnownAs(others[last]!, after)) last += 1;
    if (after !== null && others[last]?.measure === lowest) while (next <= last) result.push(others[next++]!);
    result.push(row);
  }
  return [...result, ...others.slice(next)];
}

const byHand = ({ lead: a }: RankedRow, { lead: b }: RankedRow) =>
  a.hand!.order - b.hand!.order || (a.key < b.key ? -1 : 1);

/** A row is known by the key of each of its reasons: another of them may lead it later. */
const isKnownAs = ({ lead, merged }: RankedRow, key: string) =>
  lead.key === key || merged.some((each) => each.key === key);

/** A place by hand with the key it is kept under. */
export type KeptPlace = HandPlace & { readonly key: string };

/**
 * All places by hand of a day once a row is put right before another, or behind all.
 * @param rows the Round as it is shown, those below the line behind those above it
 * @param above how many of them are above the line
 * @param key of the row that is moved
 * @param before key of the row that it is put before; null for the end
 * @param isToday whether it is let go above the line
 * @returns null when the Round has no such rows
 * @example putByHand(rows, 2, { key: 'task:3', before: 'task:1', isToday: true })
 */
export function putByHand(
  rows: readonly RankedRow[],
  {
    key,
    before,
    isToday,
  }: { readonly key: string; readonly before: string | null; readonly isToday: boolean },
): KeptPlace[] | null {
  const row = rows.find((each) => isKnownAs(each, key));
  if (row === undefined) return null;
  const others = rows.filter((each) => each !== row);
  const at = before === null ? others.length : others.findIndex((each) => isKnownAs(each, before));
  if (at < 0) return null;
  const isOrdered = ({ lead }: RankedRow) => !lead.pinned && lead.fixedAfterMinutes === null;
  const above = others.slice(0, at).filter(isOrdered);
  const below = others.slice(at).filter(isOrdered);
  const place = {
    key: row.lead.key,
    isToday,
    measure: between(lowestOf(above), highestOf(below)),
    after: above.filter(({ lead }) => !lead.hand).at(-1)?.lead.key ?? null,
  };
  const kept = (list: readonly RankedRow[]) =>
    list.flatMap(({ lead }) => (lead.hand ? { ...lead.hand, key: lead.key } : []));
  return [...kept(above), place, ...kept(below)].map((each, order) => ({ ...each, order }));
}

const measureOf = ({ lead, measure }: RankedRow) => lead.hand?.measure ?? measure;
const lowestOf = (rows: readonly RankedRow[]) =>
  rows.reduce((lowest, row) => Math.min(lowest, measureOf(row)), Infinity);
const highestOf = (rows: readonly RankedRow[]) =>
  rows.reduce((highest, row) => Math.max(highest, measureOf(row)), -Infinity);

/** A measure between two, one of which may be missing. */
function between(above: number, below: number): number {
  if (above === Infinity) return below === -Infinity ? 0 : below + 1;
  return below === -Infinity ? above - 1 : (above + below) / 2;
}
