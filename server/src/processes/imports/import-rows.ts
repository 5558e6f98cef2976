import type { JudgedRow as ShownRow, RowChoice } from '@kettle/contract';
import type { CellProblem } from '@kettle/core/imports';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, wholeNumber } from '../../platform/database/values';
import { bytesOf, type IdBytes } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';
import { planOf, type JudgedRow, type Outcome, type PlannedRow } from './judged-row';
import type { StoredImport } from './stored-import';

const insertedAtOnce = 1000;

const storedProblems = z.array(z.object({ column: z.string(), reason: z.string() })) satisfies z.ZodType<
  CellProblem[]
>;

interface ImportRow extends Row<'import_row', 'line' | 'verdict' | 'choice' | 'record_id'> {
  draft: unknown;
  problems: unknown;
  changes: unknown;
}

/** Keeps what a file holds in place of what was read of it before. */
export async function replaceRows(
  tx: Queryable,
  importId: string,
  rows: readonly JudgedRow[],
): Promise<void> {
  const id = bytesOf(importId);
  await tx.change('DELETE FROM import_row WHERE import_id = :id', { id });
  for (let from = 0; from < rows.length; from += insertedAtOnce)
    await tx.change(
      'INSERT INTO import_row (import_id, position, line, verdict, draft, problems, record_id, changes) VALUES :rows',
      {
        rows: rows
          .slice(from, from + insertedAtOnce)
          .map(({ line, draft, verdict, problems, recordId, changes }, index) => [
            ...[id, from + index, line, verdict, JSON.stringify(draft), JSON.stringify(problems)],
            ...[recordId ?? null, changes === undefined ? null : JSON.stringify(changes)],
          ]) as never,
      },
    );
}

/** The rows of one part that something is to be done with, in file order. */
export async function readPart(
  db: Queryable,
  stored: StoredImport,
  from: number,
  count: number,
): Promise<PlannedRow[]> {
  const rows = await db.rows<ImportRow>(
    `SELECT line, verdict, choice, record_id, draft FROM import_row
      WHERE import_id = :id AND position >= :from AND position < :to AND verdict IN ('new', 'likely', 'known') AND outcome IS NULL
      ORDER BY position`,
    { id: bytesOf(stored.id), from, to: from + count },
  );
  return rows.flatMap((row) => {
    const plan = planOf(row, stored);
    return plan === null
      ? []
      : [
          {
            ...{ line: row.line, draft: jsonOf(row.draft), plan, isAsked: row.verdict === 'likely' },
            recordId: row.record_id as IdBytes | null,
          },
        ];
  });
}

/** Keeps what came of rows: refused ones stand among the wrong ones, with the reason. @returns how many were made and changed */
export async function keepOutcomes(
  db: Queryable,
  importId: string,
  outcomes: ReadonlyMap<number, Outcome>,
): Promise<{ made: number; changed: number }> {
  const id = bytesOf(importId);
  const linesOf = (outcome: 'made' | 'changed') =>
    [...outcomes].filter(([, each]) => each === outcome).map(([line]) => line);
  for (const outcome of ['made', 'changed'] as const) {
    const lines = linesOf(outcome);
    if (lines.length > 0)
      await db.change('UPDATE import_row SET outcome = :outcome WHERE import_id = :id AND line IN (:lines)', {
        ...{ id, outcome, lines },
      });
  }
  for (const [line, outcome] of outcomes)
    if (outcome !== null && typeof outcome === 'object')
      await db.change(
        "UPDATE import_row SET outcome = 'refused', verdict = 'wrong', problems = :problems WHERE import_id = :id AND line = :line",
        { id, line, problems: JSON.stringify([{ column: 'row', reason: outcome.refused }]) },
      );
  return { made: linesOf('made').length, changed: linesOf('changed').length };
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
export async function readShownRows(
  db: Queryable,
  importId: string,
  limit: number,
  cells: (draft: unknown) => readonly string[],
): Promise<ShownRow[]> {
  const rows = await db.rows<ImportRow>(
    'SELECT line, verdict, draft, problems, changes, choice FROM import_row WHERE import_id = :id ORDER BY verdict, line LIMIT :limit',
    { id: bytesOf(importId), limit },
  );
  return rows.map((row) => ({
    line: row.line,
    verdict: row.verdict,
    cells: [...cells(jsonOf(row.draft))],
    problems: storedProblems.parse(jsonOf(row.problems)),
    changes: row.changes === null ? [] : z.array(z.string()).parse(jsonOf(row.changes)),
    choice: row.choice,
  }));
}

/** What is to happen to rows that are likely ones that are here; of the others nothing is asked. */
export async function chooseRows(
  db: Queryable,
  importId: string,
  lines: readonly number[],
  choice: RowChoice,
): Promise<void> {
  await db.change(
    `UPDATE import_row SET choice = :choice WHERE import_id = :id AND line IN (:lines) AND verdict = 'likely'
        AND (:choice <> 'same' OR record_id IS NOT NULL)`,
    { id: bytesOf(importId), lines: [...lines], choice },
  );
}
