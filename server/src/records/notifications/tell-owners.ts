import { sayCount } from '@kettle/core/locale';
import type { Row } from '../../platform/database/schema.generated';
import { specOf } from '../../platform/database/tables';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Teller, Work } from '../../platform/work/work';
import { idOfHex, type Image, type Written, type WrittenRow } from '../../platform/work/written';
import { notify } from './notify';

interface Kind {
  readonly table: 'contact' | 'company' | 'deal' | 'sales_lead' | 'agreement';
  readonly name: string;
  readonly words: string;
  readonly one: string;
  readonly path: string;
  readonly list: string;
}

/** Records that are somebody's, by what open browsers call a change of them. */
const kinds: Readonly<Record<string, Kind>> = {
  contact: {
    ...{ table: 'contact', name: 'display_name', path: '/people', list: '/people' },
    ...{ words: $localize`person|people`, one: $localize`person` },
  },
  company: {
    ...{ table: 'company', name: 'name', path: '/companies', list: '/people/companies' },
    ...{ words: $localize`company|companies`, one: $localize`company` },
  },
  deal: {
    ...{ table: 'deal', name: 'name', path: '/deals', list: '/deals' },
    ...{ words: $localize`deal|deals`, one: $localize`deal` },
  },
  lead: {
    ...{ table: 'sales_lead', name: 'subject', path: '/deals/leads', list: '/deals/leads' },
    ...{ words: $localize`lead|leads`, one: $localize`lead` },
  },
  agreement: {
    ...{ table: 'agreement', name: 'name', path: '/agreements', list: '/renewals' },
    ...{ words: $localize`agreement|agreements`, one: $localize`agreement` },
  },
};

interface Changed {
  readonly topic: string;
  readonly hex: string;
  /** Whose it was when it was given away or deleted. */
  formerOwner: string | null;
  /** Whose it is, where a written row of it says so. */
  owner?: string | null;
}

/** Whoever's records a colleague changed is told, once for each change however many they are; not of what they did themselves. */
export const tellOwners: Teller = async (w, written, words) => {
  if (w.who !== null) await tellOfRows(w, w.who, written.rows, words);
};

/** The same for bulk work, once all of its parts are written. */
export async function tellOfWhole(
  w: Work,
  who: { readonly id: string; readonly name: string },
  rows: readonly WrittenRow[],
  words: string,
): Promise<void> {
  await tellOfRows(w, who, rows, words);
}

async function tellOfRows(
  w: Work,
  who: { readonly id: string; readonly name: string },
  rows: Written['rows'],
  words: string,
): Promise<void> {
  // Most changes are of one's own records: those are not read again.
  const mine = who.id.replaceAll('-', '').toUpperCase();
  const changed = [...changedRecords(rows).values()].filter(
    ({ formerOwner, owner }) => formerOwner !== null || owner?.toUpperCase() !== mine,
  );
  if (changed.length === 0) return;
  const byOwner = new Map<string, { topic: string; hex: string; name: string }[]>();
  const add = (owner: string | null, record: { topic: string; hex: string; name: string }) => {
    if (owner === null || owner === who.id) return;
    byOwner.set(owner, [...(byOwner.get(owner) ?? []), record]);
  };
  for (const [topic, kind] of Object.entries(kinds)) {
    const own = changed.filter((each) => each.topic === topic);
    if (own.length === 0) continue;
    const found = await w.rows<{ id: IdBytes; name: string; owner_id: IdBytes | null }>(
      `SELECT id, ${kind.name} AS name, owner_id FROM ${kind.table} WHERE id IN (:ids)`,
      { ids: own.map(({ hex }) => bytesOf(idOfHex<string>(hex))) },
    );
    for (const { hex, formerOwner } of own) {
      const row = found.find(({ id }) => id.toString('hex').toUpperCase() === hex.toUpperCase());
      if (row === undefined) continue;
      const record = { topic, hex, name: row.name };
      if (formerOwner !== null) add(idOfHex<string>(formerOwner), record);
      else add(row.owner_id === null ? null : idOf<string>(row.owner_id), record);
    }
  }
  const known = await readTold(w, [...byOwner.keys()]);
  for (const [owner, records] of byOwner) {
    if (known.has(owner)) continue;
    const [first] = records;
    const kind = kinds[first!.topic]!;
    const isOne = new Set(records.map(({ hex }) => hex)).size === 1;
    const what = isOne ? `${kind.one} “${first!.name}”` : sayKinds(records);
    const how = words === '' || !isOne ? '' : `: ${words}`;
    await notify(
      w,
      'changed',
      [owner],
      isOne
        ? $localize`${who.name}:name: changed your ${what}:what:${how}:how:`
        : $localize`${who.name}:name: changed ${what}:what: of yours${words === '' ? '' : ` (${words})`}:how:`,
      isOne ? `${kind.path}/${idOfHex<string>(first!.hex)}` : kind.list,
    );
  }
}

/** "5 deals and 2 people": how many of which kind. */
function sayKinds(records: readonly { topic: string; hex: string }[]): string {
  const parts = Object.entries(kinds).flatMap(([topic, { words }]) => {
    const count = new Set(records.flatMap((each) => (each.topic === topic ? [each.hex] : []))).size;
    return count === 0 ? [] : [sayCount(count, words)];
  });
  return parts.length < 2
    ? parts.join('')
    : `${parts.slice(0, -1).join(', ')} ${$localize`and`} ${parts.at(-1) ?? ''}`;
}

/** Those who were told of this change already: that they were given something, or of another part of it. */
async function readTold(w: Work, people: readonly string[]): Promise<Set<string>> {
  if (people.length === 0) return new Set();
  const rows = await w.rows<Row<'notification', 'user_id'>>(
    'SELECT user_id FROM notification WHERE set_id = :set AND user_id IN (:people)',
    { set: bytesOf(w.wholeId), people: people.map((id) => bytesOf(id)) },
  );
  return new Set(rows.map((row) => idOf<string>(row.user_id)));
}

/** Records that were changed themselves or in a part of them: not what was only logged or planned for them. */
function changedRecords(rows: readonly WrittenRow[]): Map<string, Changed> {
  const found = new Map<string, Changed>();
  const made = new Set<string>();
  for (const row of rows) {
    const spec = specOf(row.table);
    const kind = spec && kinds[spec.topic];
    if (kind === undefined) continue;
    const hex = row.refs[spec!.of ?? 'id'] ?? row.was?.[spec!.of ?? 'id'];
    if (!hex) continue;
    const key = `${spec!.topic} ${hex}`;
    if (row.table === kind.table && row.op === 'insert') made.add(key);
    if (row.table === kind.table && row.op === 'update' && !isChange(row, spec?.soft ?? [])) continue;
    const known = found.get(key) ?? { topic: spec!.topic, hex, formerOwner: null };
    if (row.table === kind.table) {
      known.formerOwner ??= formerOwnerOf(row);
      if ('owner_id' in row.refs) known.owner = row.refs.owner_id ?? null;
    }
    found.set(key, known);
  }
  // What was made just now is told as what is given.
  for (const key of made) found.delete(key);
  return found;
}

const isChange = ({ became }: WrittenRow, soft: readonly string[]): boolean =>
  Object.keys(became ?? {}).some((column) => column !== 'version' && !soft.includes(column));

/** Whose it was, when it has another owner now. */
function formerOwnerOf({ op, was, became }: WrittenRow): string | null {
  const image: Image | null = op === 'update' && became !== null && 'owner_id' in became ? was : null;
  return image?.owner_id ?? null;
}
