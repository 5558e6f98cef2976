import { contactCategory, customValue, type ImportPreview, type JudgedRow } from '@kettle/contract';
import { contactPlain, type ContactPlainKey } from '@kettle/contract/base/catalogues';
import type { CellProblem, ContactDraft } from '@kettle/core/imports';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { JudgedDraft } from './judge';
import type { Row } from '../../platform/database/schema.generated';

const rowsAtOnce = 1000;

const text = z.string();
const plain = contactPlain.each((_, field) =>
  field.type === 'choice' ? z.enum(['', ...(field.choices ?? [])]) : text,
) as unknown as { [Key in ContactPlainKey]: z.ZodType<ContactDraft[Key]> };
/** A row of a file as it is kept until it is written. */
const storedDraft = z.object({
  ...{ line: z.int(), givenName: text, familyName: text, company: text, email: text, phone: text },
  ...{ country: text, city: text, street: text, postcode: text, website: text },
  ...{ standing: text, note: text, owner: text, tags: z.array(text) },
  // Rows of a file that was read before these could be said have none.
  ...{ zone: text.default(''), category: contactCategory.default('person') },
  checkInDays: z.int().nullable().default(null),
  ...plain,
  custom: z.record(text, customValue),
}) satisfies z.ZodType<ContactDraft>;
const storedProblems = z.array(z.object({ column: text, reason: text })) satisfies z.ZodType<CellProblem[]>;

interface ImportRow extends Row<'import_row', 'line' | 'verdict'> {
  draft: unknown;
  problems: unknown;
}

/** Keeps what a file holds in place of what was read of it before. */
export async function replaceRows(
  tx: Queryable,
  importId: string,
  rows: readonly JudgedDraft[],
): Promise<void> {
  const id = bytesOf(importId);
  await tx.change('DELETE FROM import_row WHERE import_id = :id', { id });
  for (let from = 0; from < rows.length; from += rowsAtOnce)
    await tx.change(
      'INSERT INTO import_row (import_id, position, line, verdict, draft, problems) VALUES :rows',
      {
        rows: rows
          .slice(from, from + rowsAtOnce)
          .map(({ draft, verdict, problems }, index) => [
            id,
            from + index,
            draft.line,
            verdict,
            JSON.stringify(draft),
            JSON.stringify(problems),
          ]),
      },
    );
}

/** The rows of one part that were to be written when the file was read, in file order. */
export async function readPart(
  db: Queryable,
  importId: string,
  from: number,
  count: number,
): Promise<ContactDraft[]> {
  const rows = await db.rows<Pick<ImportRow, 'draft'>>(
    `SELECT draft FROM import_row
      WHERE import_id = :id AND position >= :from AND position < :to AND verdict IN ('new', 'likely') ORDER BY position`,
    { id: bytesOf(importId), from, to: from + count },
  );
  return rows.map(({ draft }) => storedDraft.parse(jsonOf(draft)));
}

export async function countRows(db: Queryable, importId: string): Promise<number> {
  const [row] = await db.rows<{ count: string }>(
    'SELECT COUNT(*) AS count FROM import_row WHERE import_id = :id',
    {
      id: bytesOf(importId),
    },
  );
  return wholeNumber(row?.count ?? 0);
}

/** What is shown of a file before it is confirmed: wrong rows first. Relies on import_row_shown. */
export async function readShownRows(db: Queryable, importId: string, limit: number): Promise<JudgedRow[]> {
  const rows = await db.rows<ImportRow>(
    'SELECT line, verdict, draft, problems FROM import_row WHERE import_id = :id ORDER BY verdict, line LIMIT :limit',
    { id: bytesOf(importId), limit },
  );
  return rows.map((row) => {
    const draft = storedDraft.parse(jsonOf(row.draft));
    return {
      line: row.line,
      verdict: row.verdict,
      name: `${draft.givenName} ${draft.familyName}`.trim(),
      company: draft.company,
      email: draft.email,
      phone: draft.phone,
      problems: storedProblems.parse(jsonOf(row.problems)),
    };
  });
}

export function countVerdicts(rows: readonly JudgedDraft[]): ImportPreview['counts'] {
  const counts = { new: 0, likely: 0, known: 0, twice: 0, wrong: 0 };
  for (const { verdict } of rows) counts[verdict === 'twice-in-file' ? 'twice' : verdict] += 1;
  return counts;
}
