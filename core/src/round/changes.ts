/** A row of a list as it is shown: which it is, and all that is read of it. */
export interface ShownRow {
  readonly key: string;
  readonly words: string;
}

/**
 * How many rows another reading of a list would change on screen: those that are new, gone, tell something else, or stand elsewhere.
 * Rows that others push down or pull up have not moved: as few as possible count as moved.
 * @param isCut whether either list ends before all of it is shown: what slips over that end is no change
 * @example countChanges([{ key: 'a', words: '' }, { key: 'b', words: '' }], [{ key: 'b', words: '' }, { key: 'a', words: '' }]) // 1
 */
export function countChanges(
  before: readonly ShownRow[],
  after: readonly ShownRow[],
  { isCut = false }: { readonly isCut?: boolean } = {},
): number {
  const old = new Map(before.map((row, at) => [row.key, { ...row, at }]));
  const now = new Set(after.map(({ key }) => key));
  const gone = isNews(before, (row) => !now.has(row.key), isCut);
  const added = isNews(after, (row) => !old.has(row.key), isCut);
  const both = after.filter(({ key }) => old.has(key));
  // What tells something else counts already, wherever it stands.
  const same = both.filter(({ key, words }) => old.get(key)!.words === words);
  const changed = both.length - inOrder(same.map(({ key }) => old.get(key)!.at)).size;
  return gone + added + changed;
}

/** How many rows are news; where the list is cut, those at its very end are not. */
function isNews(rows: readonly ShownRow[], isNew: (row: ShownRow) => boolean, isCut: boolean): number {
  const end = isCut ? rows.findLastIndex((row) => !isNew(row)) + 1 : rows.length;
  return rows.slice(0, end).filter(isNew).length;
}

/**
 * Places of a longest run that only rises among different numbers.
 * @see Schensted, "Longest increasing and decreasing subsequences", Canadian Journal of Mathematics 13 (1961), from memory
 */
function inOrder(numbers: readonly number[]): ReadonlySet<number> {
  /** For each length, the place of the least number that ends a run of it. */
  const ends: number[] = [];
  const before: number[] = [];
  numbers.forEach((number, at) => {
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (numbers[ends[middle]!]! < number) low = middle + 1;
      else high = middle;
    }
    before[at] = ends[low - 1] ?? -1;
    ends[low] = at;
  });
  const run = new Set<number>();
  for (let at = ends.at(-1) ?? -1; at >= 0; at = before[at]!) run.add(at);
  return run;
}
