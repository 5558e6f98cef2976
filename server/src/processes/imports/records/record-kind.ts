import type { CompanyId, ContactId, DealId } from '@kettle/contract';
import {
  sayValue,
  type CellProblem,
  type ImportColumn,
  type JudgedRecord,
  type RecordDraft,
  type RecordValue,
} from '@kettle/core/imports';
import * as z from 'zod';
import { idOf, type IdBytes } from '../../../platform/ids';
import { attempt } from '../../../platform/work/attempt';
import type { PersonWork } from '../../../platform/work/work';
import { mayChange } from '../../../records/rights/index';
import type { FileKind, Reading } from '../file-kind';
import type { JudgedRow, Outcome, PlannedRow } from '../judged-row';

export type Values = Readonly<Record<string, RecordValue | null>>;

/** What a row was set against. */
export interface Found {
  /** What it names is not there, or is there several times. */
  readonly problem?: CellProblem;
  readonly contactId?: ContactId | null;
  readonly companyId?: CompanyId | null;
  readonly dealId?: DealId | null;
  /** The record it is. */
  readonly record?: {
    readonly id: IdBytes;
    readonly name: string;
    readonly ownerId: string | null;
    readonly ownerName: string | null;
    /** Likely, not surely. */
    readonly isLikely?: boolean;
    /** What it says now, by the keys of the columns. */
    readonly now: Values;
  };
}

/** A kind of record that has its columns from a catalogue. */
export interface RecordDef {
  /** Keys of the columns in which a row is shown. */
  readonly shown: readonly string[];
  /** Rows with the same are one. */
  readonly sameAs: (values: Values) => string;
  readonly find: (reading: Reading, drafts: readonly RecordDraft[]) => Promise<ReadonlyMap<number, Found>>;
  readonly make: (w: PersonWork, values: Values, found: Found, reading: Reading) => Promise<void>;
  /** Makes a record say what the file says; left out where it is never changed by one. */
  readonly change?: (w: PersonWork, id: string, values: Values, reading: Reading) => Promise<void>;
}

const stored = z.object({
  line: z.int(),
  values: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.array(z.string())])),
}) satisfies z.ZodType<RecordDraft>;

export const textOf = (values: Values, key: string): string => {
  const value = values[key];
  return typeof value === 'string' ? value : '';
};
export const textOrNull = (values: Values, key: string): string | null => textOf(values, key) || null;
export const numberOf = (values: Values, key: string): number | null => {
  const value = values[key];
  return typeof value === 'number' ? value : null;
};
export const isTrue = (values: Values, key: string): boolean => values[key] === true;

/** Values of fields that an admin defined, by their id. */
export const customOf = (values: Values): Record<string, string | number | boolean> =>
  Object.fromEntries(
    Object.entries(values).flatMap(([key, value]) =>
      key.startsWith('custom:') && value !== null && !Array.isArray(value)
        ? [[key.slice('custom:'.length), value as string | number | boolean]]
        : [],
    ),
  );

/** The same of a record, by the keys of the columns. */
export const customNow = (custom: Readonly<Record<string, unknown>>): Values =>
  Object.fromEntries(Object.entries(custom).map(([id, value]) => [`custom:${id}`, value as RecordValue]));

/** Fields that an admin defined and nobody filled in are empty, so that a file can fill them. */
export const noCustom = (values: Values): Values =>
  Object.fromEntries(Object.keys(values).flatMap((key) => (key.startsWith('custom:') ? [[key, null]] : [])));

/** Rows set against what is here and against each other. */
export async function judgeRecords(
  def: RecordDef,
  reading: Reading,
  rows: readonly JudgedRecord[],
): Promise<JudgedRow<RecordDraft>[]> {
  const good = rows.filter(({ problems }) => problems.length === 0).map(({ draft }) => draft);
  const found = await def.find(reading, good);
  const seen = new Map<string, number>();
  return rows.map(({ draft, problems }): JudgedRow<RecordDraft> => {
    const { line } = draft;
    if (problems.length > 0) return { line, draft, verdict: 'wrong', problems };
    const { problem, record } = found.get(line) ?? {};
    if (problem !== undefined) return { line, draft, verdict: 'wrong', problems: [problem] };
    const because = (reason: string) => [{ column: 'row', reason }];
    const key = def.sameAs(draft.values);
    const first = seen.get(key);
    if (first !== undefined)
      return {
        line,
        draft,
        verdict: 'twice-in-file',
        problems: because($localize`the same as line ${first}:first:`),
      };
    seen.set(key, line);
    if (record === undefined) return { line, draft, verdict: 'new', problems: [] };
    const isOurs = mayChange(reading.who, record.ownerId);
    return {
      ...{ line, draft, recordId: record.id },
      verdict: record.isLikely === true ? 'likely' : 'known',
      problems: because(
        isOurs
          ? $localize`${record.name}:name: is here already`
          : $localize`${record.name}:name: is here already, with ${record.ownerName ?? $localize`a colleague`}:owner:`,
      ),
      changes: isOurs && def.change !== undefined ? changesOf(draft.values, record.now, reading) : [],
    };
  });
}

const isSame = (one: RecordValue, other: RecordValue | null | undefined) =>
  Array.isArray(one) && Array.isArray(other)
    ? one.every((each) => (other as readonly string[]).includes(each as string))
    : one === other;

/** What the file says and a record does not, of what a record can be asked. */
const differing = (values: Values, now: Values): Record<string, RecordValue> =>
  Object.fromEntries(
    Object.entries(values).filter(
      (pair): pair is [string, RecordValue] =>
        pair[1] !== null && pair[0] in now && !isSame(pair[1], now[pair[0]]),
    ),
  );

function changesOf(values: Values, now: Values, { columns, currency, today }: Reading): string[] {
  const own = textOf({ ...now, ...values }, 'currency') || currency;
  const say = (value: RecordValue | null | undefined, column: ImportColumn) =>
    sayValue(value, column, own, today) || $localize`empty`;
  return Object.entries(differing(values, now)).flatMap(([key, value]) => {
    const column = columns.find((each) => each.key === key);
    return column === undefined ? [] : [`${column.name}: ${say(now[key], column)} → ${say(value, column)}`];
  });
}

/** How files of a kind of record are shown and written. */
export const fileKindOf = (def: RecordDef): FileKind => ({
  rowsAtOnce: 50,
  heads: (columns) =>
    def.shown.map((key) =>
      key === 'person' ? $localize`person` : (columns.find((each) => each.key === key)?.name ?? key),
    ),
  cells: (draft, { columns, currency, today }) => {
    const { values } = stored.parse(draft);
    return def.shown.map((key) => {
      if (key === 'person') return textOf(values, 'person') || textOf(values, 'email');
      const column = columns.find((each) => each.key === key);
      return column === undefined
        ? ''
        : sayValue(values[key], column, textOf(values, 'currency') || currency, today);
    });
  },
  write: (w, reading, rows) => writeRecords(def, w, reading, rows),
});

async function writeRecords(
  def: RecordDef,
  w: PersonWork,
  reading: Reading,
  rows: readonly PlannedRow[],
): Promise<ReadonlyMap<number, Outcome>> {
  const drafts = rows.map(({ draft }) => stored.parse(draft));
  const outcomes = new Map<number, Outcome>();
  // Somebody else may have written the same since the file was read.
  const found = await def.find(reading, drafts);
  for (const [at, { line, plan, isAsked }] of rows.entries()) {
    const { values } = drafts[at]!;
    const known = found.get(line) ?? {};
    let outcome: Outcome = null;
    const refused = await attempt(w, async () => {
      outcome = await writeOne(def, w, { values, known, plan, isAsked }, reading);
    });
    outcomes.set(line, refused === null ? outcome : { refused: reasonOf(refused, reading.columns) });
  }
  return outcomes;
}

async function writeOne(
  def: RecordDef,
  w: PersonWork,
  {
    values,
    known,
    plan,
    isAsked,
  }: { values: Values; known: Found; plan: PlannedRow['plan']; isAsked: boolean },
  reading: Reading,
): Promise<Outcome> {
  if (known.problem !== undefined) return { refused: `${known.problem.column}: ${known.problem.reason}` };
  const { record } = known;
  if (plan === 'change') {
    if (record === undefined || def.change === undefined) return null;
    const part = differing(values, record.now);
    if (Object.keys(part).length === 0) return null;
    await def.change(w, idOf<string>(record.id), { ...part, ...currencyOf(values) }, reading);
    return 'changed';
  }
  if (record !== undefined && !(isAsked && record.isLikely === true)) return null;
  await def.make(w, values, known, reading);
  return 'made';
}

const currencyOf = (values: Values): Values =>
  typeof values.currency === 'string' ? { currency: values.currency } : {};

/** A refusal in words, with the names of our columns where it is about a field. */
function reasonOf(
  {
    message,
    fields,
  }: { readonly message: string; readonly fields?: readonly { path: string; message: string }[] },
  columns: readonly ImportColumn[],
): string {
  if (fields === undefined || fields.length === 0) return message;
  return fields
    .map(({ path, message: words }) => `${columns.find(({ key }) => key === path)?.name ?? path}: ${words}`)
    .join('; ');
}
