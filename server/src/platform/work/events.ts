import type { ChangeTopic, EventKind } from '@kettle/contract';
import type { Transaction } from '../database/database';
import { specOf } from '../database/tables';
import { bytesOf, newId } from '../ids';
import { idOfHex, type Image, type Written, type WrittenRow } from './written';

/** What happened, as a use case says it. */
export interface NewEvent {
  /** `noted` tells open browsers only that something changed; `created`, `changed` and `removed` are said by the rows themselves. */
  readonly kind: EventKind;
  readonly topic: ChangeTopic;
  readonly recordId: string;
  readonly owners?: readonly (string | null)[];
  readonly data?: Readonly<Record<string, unknown>>;
}

interface Made {
  readonly id: string;
  readonly who: { readonly id: string } | null;
}

const rowsAtOnce = 500;

/** An event as it was written. */
export interface WrittenEvent {
  readonly id: string;
  readonly kind: EventKind;
  readonly topic: ChangeTopic;
}

/** Hears of what was written as events, in the same transaction; it waits for no answer of the database. */
export type Hearer = (tx: Transaction, events: readonly WrittenEvent[], now: string) => Promise<void>;

/** Writes the events of a unit of work: those it published, and one for each record whose rows it wrote. The last thing it writes. */
export async function publish(
  tx: Transaction,
  by: Made,
  written: Written,
  said: readonly NewEvent[],
  { act, isBulk = false }: { readonly act: string; readonly isBulk?: boolean },
): Promise<readonly WrittenEvent[]> {
  const ofRows = eventsOf(written, by.id);
  const known = new Set(ofRows.map(keyOf));
  const spoken = said.filter((event) => event.kind !== 'noted');
  const noted = said.filter((event) => event.kind === 'noted' && !known.has(keyOf(event)));
  const once = [...new Map(noted.map((event) => [keyOf(event), event])).values()];
  // Of bulk work open browsers are told its progress, not each record.
  const isTold = ({ topic }: NewEvent) => !isBulk || loud.has(topic);
  const events = [...spoken, ...ofRows, ...once].map((event) => ({ ...event, id: newId<string>() }));
  const rowOf = (event: NewEvent & { readonly id: string }) => [
    bytesOf(event.id),
    event.kind,
    event.topic,
    bytesOf(event.recordId),
    bytesOf(by.who?.id) as Buffer,
    bytesOf(by.id),
    act,
    Number(isTold(event)),
    JSON.stringify([...new Set((event.owners ?? []).filter((owner) => owner !== null))]),
    JSON.stringify(event.data ?? {}),
  ];
  for (let from = 0; from < events.length; from += rowsAtOnce) {
    await tx.later(
      'INSERT INTO event (id, kind, topic, record_id, user_id, set_id, cause, told, owners, data) VALUES :rows',
      { rows: events.slice(from, from + rowsAtOnce).map(rowOf) },
    );
  }
  return events;
}

const keyOf = ({ topic, recordId }: NewEvent) => `${topic} ${recordId}`;
const loud = new Set<ChangeTopic>(['import', 'bulk', 'notification', 'lead']);

/** One event for each record, with the fields that changed, from and to. */
export function eventsOf(written: Written, setId: string): NewEvent[] {
  const records = new Map<string, { topic: ChangeTopic; recordId: string; rows: WrittenRow[] }>();
  for (const row of written.rows)
    for (const record of recordsOf(row, setId)) {
      const key = `${record.topic} ${record.recordId}`;
      const known = records.get(key) ?? { ...record, rows: [] };
      records.set(key, known);
      known.rows.push(row);
    }
  return [...records.values()].map(({ topic, recordId, rows }) => ({
    kind: kindOf(rows),
    topic,
    recordId,
    owners: ownersOf(rows),
    data: { fields: fieldsOf(rows), subjects: subjectsOf(rows) },
  }));
}

/** The record a row is or belongs to; the change itself when it has no id to be known by. */
function recordsOf(row: WrittenRow, setId: string): { topic: ChangeTopic; recordId: string }[] {
  const spec = specOf(row.table);
  if (!spec) return [];
  const hex = row.refs[spec.of ?? 'id'];
  const recordId = hex ? idOfHex(hex) : setId;
  return [spec.topic, ...(spec.alsoTopics ?? [])].map((topic) => ({ topic, recordId }));
}

function kindOf(rows: readonly WrittenRow[]): 'created' | 'changed' | 'removed' {
  const own = rows.filter(({ table }) => specOf(table)?.of === undefined);
  if (own.some(({ op }) => op === 'delete')) return 'removed';
  return own.some(({ op }) => op === 'insert') ? 'created' : 'changed';
}

const ownerColumns = ['owner_id', 'user_id'] as const;

/** Whoever owns the record, or owned it before. */
export function ownersOf(rows: readonly WrittenRow[]): string[] {
  const hexes = rows.flatMap(({ refs, was }) =>
    ownerColumns.flatMap((column) => [refs[column], was?.[column]]),
  );
  return [...new Set(hexes.filter((hex) => hex !== null && hex !== undefined))].map((hex) => idOfHex(hex));
}

const subjectColumns = ['contact_id', 'company_id', 'deal_id'] as const;

/** The contacts, companies and deals that rows are about, beside the record they are. */
export function subjectsOf(rows: readonly WrittenRow[]): string[] {
  const hexes = rows.flatMap(({ refs }) => subjectColumns.flatMap((column) => refs[column] ?? []));
  return [...new Set(hexes)].map((hex) => idOfHex(hex));
}

const longestValue = 200;
const unsaid = new Set(['version', 'sort_name', 'name_key']);

/** `{ "deal.priority": ["usual", "high"] }`; rows that came or went stand as `{ "deal_person+": … }` and `{ "deal_person-": … }`. */
function fieldsOf(rows: readonly WrittenRow[]): Record<string, unknown> {
  const fields: Record<string, unknown> = {};
  for (const { table, op, was, became, refs } of rows) {
    if (op === 'update')
      for (const [column, from] of Object.entries(was ?? {}))
        if (!unsaid.has(column))
          fields[`${table}.${column}`] = [short(from), short(became?.[column] ?? null)];
    if (specOf(table)?.of === undefined) continue;
    if (op !== 'update') {
      const name = `${table}${op === 'insert' ? '+' : '-'}`;
      const list = (fields[name] as Image[] | undefined) ?? [];
      fields[name] = [...list, refs];
    }
  }
  return fields;
}

const short = (text: string | null) =>
  text !== null && text.length > longestValue ? `${text.slice(0, longestValue)}…` : text;
