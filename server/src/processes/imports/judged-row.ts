import type { ImportPreview, RowChoice, RowVerdict } from '@kettle/contract';
import type { CellProblem } from '@kettle/core/imports';
import type { IdBytes } from '../../platform/ids';

/** A row of a file, and what is said of it. `Draft` is what its cells say. */
export interface JudgedRow<Draft = unknown> {
  readonly line: number;
  readonly draft: Draft;
  readonly verdict: RowVerdict;
  readonly problems: readonly CellProblem[];
  /** The record it is, or is likely to be. */
  readonly recordId?: IdBytes;
  /** What would be another there, in words. */
  readonly changes?: readonly string[];
}

/** What is to be done with a row of a confirmed file. */
export type Plan = 'make' | 'change';

export interface PlannedRow<Draft = unknown> {
  readonly line: number;
  readonly draft: Draft;
  readonly plan: Plan;
  /** One that is likely here already was asked for all the same. */
  readonly isAsked: boolean;
  readonly recordId: IdBytes | null;
}

/** What came of a row: null where there was nothing to do any more. */
export type Outcome = 'made' | 'changed' | { readonly refused: string } | null;

interface Known {
  readonly verdict: RowVerdict;
  readonly choice: RowChoice | null;
}

/** What a row comes to: known ones are changed where that is asked for, and likely ones as they or all of them are decided. */
export function planOf(
  { verdict, choice }: Known,
  { withLikely, updates }: { readonly withLikely: boolean; readonly updates: boolean },
): Plan | null {
  if (verdict === 'new') return 'make';
  if (verdict === 'known') return updates ? 'change' : null;
  if (verdict !== 'likely') return null;
  const chosen = choice ?? (withLikely ? 'new' : 'leave');
  return chosen === 'new' ? 'make' : chosen === 'same' ? 'change' : null;
}

export function countVerdicts(rows: readonly JudgedRow[]): ImportPreview['counts'] {
  const counts = { new: 0, likely: 0, known: 0, twice: 0, wrong: 0, differs: 0 };
  for (const { verdict, changes } of rows) {
    counts[verdict === 'twice-in-file' ? 'twice' : verdict] += 1;
    if (verdict === 'known' && changes !== undefined && changes.length > 0) counts.differs += 1;
  }
  return counts;
}
