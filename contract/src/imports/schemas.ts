import * as z from 'zod';
import { importId } from '../base/ids';
import { contactPlain } from '../base/catalogues';
import { instant, version } from '../base/values';
import { dateOrders, decimalMarks, importKinds, rowChoices } from './kinds';

/** Fields of a contact or its company that a column can be mapped to. */
export const importFields = [
  'ignore',
  'givenName',
  'familyName',
  'fullName',
  'company',
  'email',
  'phone',
  'country',
  'zone',
  'city',
  'street',
  'postcode',
  'website',
  'standing',
  ...contactPlain.keys,
  'tags',
  'owner',
  'category',
  'checkInDays',
  'note',
] as const;

export const importField = z.union([z.enum(importFields), z.templateLiteral(['custom:', z.uuid()])]);

export type ImportField = z.infer<typeof importField>;

export const importKind = z.enum(importKinds);

/** What a column of a file of another kind holds, by the key of its catalogue. */
export const recordField = z.string().regex(/^([A-Za-z]{1,30}|custom:[0-9a-f-]{36})$/);

/** How a file writes days and numbers. */
export const fileFormats = z.object({ dates: z.enum(dateOrders), numbers: z.enum(decimalMarks) });

export const importFileType = z.enum(['csv', 'vcard', 'xlsx']);

export const uploadImport = z.object({
  fileName: z.string().trim().min(1).max(200),
  /** The file's bytes, base64; at most 15 MB of file. Checked where it is decoded, not in the thread that answers everybody. */
  contentBase64: z.string().max(21_000_000).meta({ format: 'base64' }),
  /** Null finds it from the bytes. */
  encoding: z.string().max(40).nullable().default(null),
  /** Null finds it from its name and its columns. */
  kind: importKind.nullable().default(null),
  /** Files that were chosen together have the same. */
  packageId: z.uuid().nullable().default(null),
});

export const rowVerdict = z.enum(['new', 'likely', 'known', 'twice-in-file', 'wrong']);

export type RowVerdict = z.infer<typeof rowVerdict>;

export const judgedRow = z.object({
  /** Line in the file where the row starts, counted from 1. */
  line: z.int(),
  verdict: rowVerdict,
  /** What it says, by the heads of the preview. */
  cells: z.array(z.string()),
  /** Why a row is wrong, or whom it matches. */
  problems: z.array(z.object({ column: z.string(), reason: z.string() })),
  /** Of one that is here: what would be another, in words. */
  changes: z.array(z.string()),
  /** Of one that is likely here: what is to happen; null is what is said for all of them. */
  choice: z.enum(rowChoices).nullable(),
});

export type JudgedRow = z.infer<typeof judgedRow>;

export const importState = z.enum(['judged', 'applying', 'done', 'undoing', 'undone']);

/** A dry run: nothing is written until it is confirmed. */
export const importPreview = z.object({
  id: importId,
  fileName: z.string(),
  type: importFileType,
  encoding: z.string(),
  delimiter: z.string().nullable(),
  kind: importKind,
  /** The sheet that is read, and the sheets there are; empty for a file without sheets. */
  sheet: z.int(),
  sheets: z.array(z.string()),
  formats: fileFormats,
  /** Its columns were mapped as they were the last time. */
  isRemembered: z.boolean(),
  columns: z.array(z.object({ name: z.string(), field: z.string(), samples: z.array(z.string()) })),
  /** What its columns can hold, with what is needed first; empty for people, whose fields the page knows. */
  fields: z.array(z.object({ key: recordField, name: z.string(), isNeeded: z.boolean() })),
  /** Names of the columns of `rows`. */
  heads: z.array(z.string()),
  counts: z.object({
    ...{ new: z.int(), likely: z.int(), known: z.int(), twice: z.int(), wrong: z.int() },
    /** Known ones of which the file says something else. */
    differs: z.int(),
  }),
  /** Files that were chosen together with it, in the order in which they are to be written. */
  package: z.array(z.object({ id: importId, fileName: z.string(), kind: importKind, state: importState })),
  /** Every wrong row, then known ones, then new ones, at most 200. */
  rows: z.array(judgedRow),
  /** When the very same file was brought in before. */
  sameFileAt: instant.nullable(),
  state: importState,
  written: z.int(),
  /** Of those that were here: changed. */
  changed: z.int(),
  /** Rows that were refused when they were to be written; they stand among the wrong ones, with the reason. */
  refused: z.int(),
  /** Rows of parts that failed however often they were tried; they can be tried again. */
  failedRows: z.int(),
  version: z.int(),
});

export type ImportPreview = z.infer<typeof importPreview>;

export const remapImport = z.object({
  version,
  /** `ignore` leaves a column out. */
  fields: z.array(z.union([importField, recordField])).max(200),
  encoding: z.string().max(40).nullable().default(null),
  /** Left out, as it is; another kind, or another sheet, has its columns proposed anew. */
  kind: importKind.optional(),
  sheet: z.int().min(0).max(200).optional(),
  formats: fileFormats.optional(),
});

export type RemapImport = z.infer<typeof remapImport>;

export const confirmImport = z.object({
  version,
  /** Rows that are likely somebody known are left out unless this says otherwise. */
  withLikely: z.boolean().default(false),
  /** Whether known ones become what the file says of them. */
  updates: z.boolean().default(false),
  /** A lead for everybody who is written, with this campaign; null makes none. */
  leadsAs: z
    .string()
    .trim()
    .min(1, $localize`must not be empty`)
    .max(160)
    .nullable()
    .default(null),
});

export type ConfirmImport = z.infer<typeof confirmImport>;

/** What is to happen to rows that are likely ones that are here. */
export const chooseImportRows = z.object({
  version,
  lines: z.array(z.int().min(1)).min(1).max(500),
  choice: z.enum(rowChoices),
});

export type ChooseImportRows = z.infer<typeof chooseImportRows>;

/** A file that was written, as it is listed. */
export const importSummary = z.object({
  id: importId,
  fileName: z.string(),
  kind: importKind,
  state: importState,
  at: instant,
  byName: z.string(),
  written: z.int(),
  /** Of those that were here: changed. */
  changed: z.int(),
  /** Records of it that were changed since and stay, once it is undone. */
  kept: z.int(),
  canUndo: z.boolean(),
});
export type ImportSummary = z.infer<typeof importSummary>;
export const importList = z.object({ imports: z.array(importSummary) });
