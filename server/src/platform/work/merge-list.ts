import { isDeepStrictEqual } from 'node:util';

type Fields = Record<string, unknown>;

/** A list that people change as a whole: its items have ids, a new one has none yet. */
export interface ListSides<Item extends { readonly id: string | null }> {
  /** What the list is called in the body: `stages`. */
  readonly path: string;
  /** Fields of an item that are changed one by one. */
  readonly fields: readonly (keyof Item & string)[];
  readonly asked: readonly Item[];
  readonly current: readonly Item[];
  readonly seen: readonly Item[];
}

/**
 * A list as fields for `mergeFields`: its order (`order`), whether each item is there (`stages.<id>`), and each field of an item
 * (`stages.<id>.name`). `listOf` makes a list of what was merged: items that others added stay after the one they follow; one that others deleted
 * and somebody keeps by choice is made anew, without an id.
 */
export function fieldsOfList<Item extends { readonly id: string | null }>({
  path,
  fields,
  asked,
  current,
  seen,
}: ListSides<Item>): {
  readonly asked: Fields;
  readonly current: Fields;
  readonly seen: Fields;
  listOf(merged: Fields): Item[];
} {
  type Known = Item & { readonly id: string };
  const known = (items: readonly Item[]) => items.filter((item): item is Known => item.id !== null);
  const byId = (items: readonly Item[]) => new Map(known(items).map((item) => [item.id, item]));
  const sides = { asked: byId(asked), current: byId(current), seen: byId(seen) };
  const at = (id: string, field = '') => `${path}.${id}${field && `.${field}`}`;

  const flatItem = (item: Known): [string, unknown][] => {
    const before = sides.seen.get(item.id);
    const isSame =
      before !== undefined && fields.every((each) => isDeepStrictEqual(item[each], before[each]));
    return [
      // Whether it is as it was tells a deletion from a change.
      [at(item.id), isSame ? 'as it was' : 'changed'],
      ...fields.map((field): [string, unknown] => [at(item.id, field), item[field]]),
    ];
  };
  const isCommon = ({ id }: Known) => [sides.asked, sides.current, sides.seen].every((side) => side.has(id));
  const flat = (items: readonly Item[]): Fields => ({
    order: known(items)
      .filter(isCommon)
      .map(({ id }) => id)
      .join(' '),
    ...Object.fromEntries(known(items).flatMap(flatItem)),
  });
  const flatAll = { asked: flat(asked), current: flat(current), seen: flat(seen) };
  // An item that was seen and is not there is deleted; one that was not seen was added by others.
  for (const id of sides.seen.keys()) {
    flatAll.asked[at(id)] ??= isGone;
    flatAll.current[at(id)] ??= isGone;
  }
  return {
    ...flatAll,
    listOf: (merged) => {
      const stays = (id: string) => (merged[at(id)] ?? flatAll.current[at(id)]) !== isGone;
      const mergedItem = (item: Known): Item => ({
        ...item,
        ...Object.fromEntries(fields.map((field) => [field, merged[at(item.id, field)] ?? item[field]])),
        id: sides.current.has(item.id) ? item.id : null,
      });
      const mine = asked
        .filter(({ id }) => id === null || stays(id))
        .map((item) => (item.id === null ? item : mergedItem(item as Known)));
      const theirs = known(current)
        .filter(({ id }) => stays(id))
        .map(mergedItem);
      return merged.order === flatAll.asked.order ? woven(mine, theirs) : woven(theirs, mine);
    },
  };
}

const isGone = 'deleted';

/** The first list in its order, with what only the second has after the one it follows there. */
function woven<Item extends { readonly id: string | null }>(
  first: readonly Item[],
  second: readonly Item[],
): Item[] {
  const same = (one: Item, other: Item) => one === other || (one.id !== null && one.id === other.id);
  const result = [...first];
  for (const [at, item] of second.entries()) {
    if (result.some((each) => same(each, item))) continue;
    const follows = second[at - 1];
    const place = follows === undefined ? 0 : result.findIndex((each) => same(each, follows)) + 1;
    result.splice(place, 0, item);
  }
  return result;
}
