import type { Direction, JournalKind, TouchCount } from '@kettle/contract';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import type { Writing } from '../../platform/work/work';

export interface NewEntry {
  readonly id: string;
  readonly at: string;
  readonly kind: JournalKind;
  readonly direction: Direction | null;
  readonly outcomeId: string | null;
  readonly outcomeLabel: string | null;
  readonly counts: TouchCount;
  readonly minutes: number | null;
  readonly body: string;
  readonly userId: string | null;
  readonly contactId: string | null;
  readonly companyId: string | null;
  readonly dealId: string | null;
  readonly taskId: string | null;
  readonly runId: string | null;
  readonly isRich?: boolean;
  readonly done?: readonly string[];
  /** Others it belongs to, beside the contact. */
  readonly alsoContactIds?: readonly string[];
}

/** Writes journal entries in one statement. */
export async function insertEntries(w: Writing, entries: readonly NewEntry[]): Promise<void> {
  if (entries.length === 0) return;
  await w.later(
    `INSERT INTO journal_entry (id, at, kind, direction, outcome_id, outcome_label, counts, minutes, body, is_rich, done, user_id,
        contact_id, company_id, deal_id, task_id, run_id, created_at) VALUES :rows`,
    {
      rows: entries.map((entry) => [
        bytesOf(entry.id),
        sqlInstant(entry.at),
        entry.kind,
        entry.direction,
        entry.outcomeId,
        entry.outcomeLabel,
        entry.counts,
        entry.minutes,
        shortened(entry.body),
        entry.isRich === true ? 1 : 0,
        entry.done?.length ? JSON.stringify(entry.done) : null,
        bytesOf(entry.userId),
        bytesOf(entry.contactId),
        bytesOf(entry.companyId),
        bytesOf(entry.dealId),
        bytesOf(entry.taskId),
        bytesOf(entry.runId),
        sqlInstant(w.now),
      ]),
    },
  );
  const people = entries.flatMap((entry) =>
    [...new Set(entry.alsoContactIds)]
      .filter((id) => id !== entry.contactId)
      .map((id) => [bytesOf(entry.id), bytesOf(id), sqlInstant(entry.at)]),
  );
  if (people.length > 0)
    await w.later('INSERT INTO entry_person (entry_id, contact_id, at) VALUES :rows', { rows: people });
}

/** What an entry holds of a text; a long mail is whole with the mail itself. */
const mostLetters = 20_000;

const shortened = (text: string) =>
  text.length > mostLetters ? `${text.slice(0, mostLetters - 1).replace(/[\ud800-\udbff]$/, '')}…` : text;

export interface SystemEntry {
  readonly id?: string;
  readonly body: string;
  readonly userId?: string | null;
  readonly contactId?: string | null;
  readonly companyId?: string | null;
  readonly dealId?: string | null;
  readonly runId?: string | null;
}

/** The system's own entries: what changed, from what to what. */
export async function writeSystemEntries(w: Writing, entries: readonly SystemEntry[]): Promise<void> {
  await insertEntries(
    w,
    entries.map((entry) => ({
      id: newId(),
      at: w.now,
      kind: 'system',
      direction: null,
      outcomeId: null,
      outcomeLabel: null,
      counts: 'none',
      minutes: null,
      taskId: null,
      userId: null,
      contactId: null,
      companyId: null,
      dealId: null,
      runId: null,
      ...entry,
    })),
  );
}

export async function writeSystemEntry(w: Writing, entry: SystemEntry): Promise<void> {
  await writeSystemEntries(w, [entry]);
}
