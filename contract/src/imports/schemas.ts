import * as z from 'zod';
import { importId } from '../base/ids';
import { contactPlain } from '../base/catalogues';
import { instant, version } from '../base/values';

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

export const importFileType = z.enum(['csv', 'vcard']);

export const uploadImport = z.object({
  fileName: z.string().trim().min(1).max(200),
  /** The file's bytes, base64; at most 15 MB of file. Checked where it is decoded, not in the thread that answers everybody. */
  contentBase64: z.string().max(21_000_000).meta({ format: 'base64' }),
  /** Null finds it from the bytes. */
  encoding: z.string().max(40).nullable().default(null),
});

export const rowVerdict = z.enum(['new', 'likely', 'known', 'twice-in-file', 'wrong']);

export type RowVerdict = z.infer<typeof rowVerdict>;

export const judgedRow = z.object({
  /** Line in the file where the row starts, counted from 1. */
  line: z.int(),
  verdict: rowVerdict,
  name: z.string(),
  company: z.string(),
  email: z.string(),
  phone: z.string(),
  /** Why a row is wrong, or whom it matches. */
  problems: z.array(z.object({ column: z.string(), reason: z.string() })),
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
  columns: z.array(z.object({ name: z.string(), field: importField, samples: z.array(z.string()) })),
  counts: z.object({ new: z.int(), likely: z.int(), known: z.int(), twice: z.int(), wrong: z.int() }),
  /** Every wrong row, then known ones, then new ones, at most 200. */
  rows: z.array(judgedRow),
  /** When the very same file was brought in before. */
  sameFileAt: instant.nullable(),
  state: importState,
  written: z.int(),
  /** Rows of parts that failed however often they were tried; they can be tried again. */
  failedRows: z.int(),
  version: z.int(),
});

export type ImportPreview = z.infer<typeof importPreview>;

export const remapImport = z.object({
  version,
  fields: z.array(importField).max(200),
  encoding: z.string().max(40).nullable().default(null),
});

export type RemapImport = z.infer<typeof remapImport>;

export const confirmImport = z.object({
  version,
  /** Rows that are likely somebody known are left out unless this says otherwise. */
  withLikely: z.boolean().default(false),
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

/** A file that was written, as it is listed. */
export const importSummary = z.object({
  id: importId,
  fileName: z.string(),
  state: importState,
  at: instant,
  byName: z.string(),
  written: z.int(),
  /** People of it that were changed since and stay, once it is undone. */
  kept: z.int(),
  canUndo: z.boolean(),
});
export type ImportSummary = z.infer<typeof importSummary>;
export const importList = z.object({ imports: z.array(importSummary) });
