/** A stretch of anything that runs on: minutes, shares of a day. Its end is not a part of it. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Beside what it meets: which of how many columns, from 0. */
export interface Beside {
  readonly column: number;
  readonly columns: number;
}

/** Ends and beginnings may be computed apart: what differs by less is the same. */
const grain = 1e-6;

/**
 * Columns for what overlaps: each stretch in the first that is free, and all that meet one another are as narrow as each other. What only
 * touches does not meet. The greedy order by beginning needs the fewest columns there can be (interval graphs are perfect: as many as lie over
 * one another at the densest place).
 * @returns the place of every stretch, by the stretch itself
 * @example 9 to 11, 10 to 12 and 11 to 13 take two columns: 0, 1 and 0
 */
export function besideEachOther<Each extends Stretch>(stretches: readonly Each[]): ReadonlyMap<Each, Beside> {
  const placed = new Map<Each, Beside>();
  let group: { readonly each: Each; readonly column: number }[] = [];
  let ends: number[] = [];
  const close = () => {
    for (const { each, column } of group) placed.set(each, { column, columns: ends.length });
    [group, ends] = [[], []];
  };
  for (const each of [...stretches].sort((one, other) => one.from - other.from)) {
    if (each.from >= Math.max(-Infinity, ...ends) - grain) close();
    const free = ends.findIndex((end) => end <= each.from + grain);
    const column = free < 0 ? ends.length : free;
    ends[column] = each.to;
    group.push({ each, column });
  }
  close();
  return placed;
}
