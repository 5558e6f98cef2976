import type { CellField, CellValue, ContactRow } from '@kettle/contract';
import { cellLabel } from '@kettle/contract/labels';
import { contactPlain } from '@kettle/contract/base/catalogues';
import type { ContactDraft } from '@kettle/core/imports';
import { bytesOf, idOf } from '../../../platform/ids';
import type { PersonWork } from '../../../platform/work/work';
import { cellOf, readContact, readContactRows, sayCell, writeCell } from '../../../records/contacts/index';
import { readCustomFields } from '../../../records/fields/index';
import { mayChange } from '../../../records/rights/index';
import { readStandings } from '../../../records/settings/index';
import type { Reading } from '../file-kind';
import type { JudgedPerson } from './judge-people';

const readAtOnce = 500;

/** What cells hold by their ids, and what they are called. */
interface Names {
  readonly standings: ReadonlyMap<string, string>;
  readonly custom: ReadonlyMap<string, string>;
  /** Ids of standings and colleagues with their names. */
  readonly words: ReadonlyMap<string, string>;
}

async function readNames({ db, owners }: Reading): Promise<Names> {
  const standings = await readStandings(db);
  return {
    standings: new Map(standings.map(({ id, name }) => [name, id])),
    custom: new Map((await readCustomFields(db, 'contact')).map(({ id, name }) => [id as string, name])),
    words: new Map([
      ...standings.map(({ id, name }) => [id as string, name] as const),
      ...[...owners].map(([name, id]) => [id as string, name] as const),
    ]),
  };
}

/** What a row says of somebody who is here, cell by cell, as far as it is another; an empty cell says nothing. */
function cellsOf(
  draft: ContactDraft,
  contact: ContactRow,
  { owners, homeCountry }: Reading,
  { standings, custom }: Names,
): { readonly field: CellField; readonly value: CellValue }[] {
  const said: [CellField, CellValue | undefined][] = [
    ['companyName', draft.company || undefined],
    ['email', draft.email || undefined],
    ['phone', draft.phone || undefined],
    // A row without a country has the organisation's.
    ['country', draft.country === homeCountry ? undefined : draft.country],
    ['zone', draft.zone || undefined],
    ['standingId', standings.get(draft.standing)],
    ...contactPlain.keys.map((key): [CellField, CellValue | undefined] => [key, draft[key] || undefined]),
    ['category', draft.category === 'organisation' ? draft.category : undefined],
    ['checkInDays', draft.checkInDays ?? undefined],
    ['tags', withTags(contact.tags, draft.tags)],
    ...Object.entries(draft.custom)
      .filter(([id]) => custom.has(id))
      .map(([id, value]): [CellField, CellValue | undefined] => [`custom:${id}`, value ?? undefined]),
    // Last, because what follows may no longer be one's own.
    ['ownerId', owners.get(draft.owner)],
  ];
  return said.flatMap(([field, value]) =>
    value === undefined || isSame(value, cellOf(contact, field)) ? [] : [{ field, value }],
  );
}

const withTags = (has: readonly string[], said: readonly string[]): string[] | undefined =>
  said.every((tag) => has.includes(tag)) ? undefined : [...new Set([...has, ...said])].sort();

const isSame = (one: CellValue, other: CellValue) => JSON.stringify(one) === JSON.stringify(other);

/** Says of each who is here, and whom the importer may change, what would be another. */
export async function sayChanges(reading: Reading, judged: readonly JudgedPerson[]): Promise<JudgedPerson[]> {
  const names = await readNames(reading);
  const contacts = new Map<string, ContactRow>();
  const ids = judged.flatMap(({ recordId }) => recordId ?? []);
  for (let from = 0; from < ids.length; from += readAtOnce)
    for (const contact of await readContactRows(reading.db, ids.slice(from, from + readAtOnce)))
      contacts.set(contact.id, contact);
  return judged.map((row) => {
    const contact = row.recordId === undefined ? undefined : contacts.get(idOf<string>(row.recordId));
    if (contact === undefined || !mayChange(reading.who, contact.ownerId)) return row;
    const changes = cellsOf(row.draft, contact, reading, names).map(
      ({ field, value }) =>
        `${labelOf(field, names)}: ${say(cellOf(contact, field), names)} → ${say(value, names)}`,
    );
    return { ...row, changes };
  });
}

const labelOf = (field: CellField, { custom }: Names): string =>
  field.startsWith('custom:')
    ? (custom.get(field.slice('custom:'.length)) ?? field)
    : cellLabel[field as keyof typeof cellLabel];

const say = (value: CellValue, { words }: Names): string => sayCell(value, words) || $localize`empty`;

/** Makes somebody who is here what a row says. @returns whether anything was another @throws Problem `not-yours` and as the change by hand */
export async function changePerson(
  w: PersonWork,
  reading: Reading,
  contactId: string,
  draft: ContactDraft,
): Promise<boolean> {
  const names = await readNames(reading);
  const [contact] = await readContactRows(w, [bytesOf(contactId)]);
  if (contact === undefined) return false;
  const cells = cellsOf(draft, contact, reading, names);
  for (const cell of cells) await writeCell(w, await readContact(w, contactId), cell);
  return cells.length > 0;
}
