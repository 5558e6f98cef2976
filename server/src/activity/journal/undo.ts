import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/http/problem';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import type { SignedIn } from '../../records/users/session';
import { refreshNextSteps } from '../touch/next-steps';
import { refreshTouchFacts } from '../touch/touch-facts';

export interface Concern {
  readonly contactId: string | null;
  readonly dealId: string | null;
  /** The deal's tasks with other people too. */
  readonly isWholeDeal?: boolean;
}

/** Columns of each table that a log or a closing may change, as text; a row is put back by writing them again. */
const columnsOf = {
  task: ['state', 'channel', 'purpose', 'due_on', 'minutes', 'promised_at', 'finished_at', 'drop_reason'],
  run: ['status', 'step', 'next_on', 'paused_until', 'exit_reason', 'handled', 'answered'],
  deal: [
    ...['status', 'amount_minor', 'closed_on', 'close_reason', 'close_words', 'lost_to', 'wake_on'],
    ...['changed_at', 'last_touch_at', 'last_touch_kind', 'loose_since'],
  ],
} as const;
type Table = keyof typeof columnsOf;

const snapshotRow = z.object({
  id: z.string(),
  version: z.number(),
  columns: z.record(z.string(), z.union([z.string(), z.number(), z.null()])),
});
const snapshot = z.object({
  task: z.array(snapshotRow),
  run: z.array(snapshotRow),
  deal: z.array(snapshotRow),
});
type Snapshot = z.infer<typeof snapshot>;

const kept = z.object({
  before: snapshot,
  /** Versions right after the log, by id; a row that has another one now was changed since. */
  after: z.record(z.string(), z.number()),
  /** Tasks the log made. */
  madeTasks: z.array(z.string()),
  contactId: z.string().nullable(),
  dealId: z.string().nullable(),
  /** The contact's move to another standing, with its entry in the journal. */
  standing: z
    .object({ from: z.string(), to: z.string(), setAt: z.string(), entryId: z.string() })
    .nullable()
    .default(null),
});
export type StandingMove = NonNullable<z.infer<typeof kept>['standing']>;

/** What an act about these may change: the person's open tasks and runs, and the deal. */
export async function takeSnapshot(tx: Queryable, concern: Concern): Promise<Snapshot> {
  const about = { contact: bytesOf(concern.contactId), deal: bytesOf(concern.dealId) };
  const tasks = concern.isWholeDeal ? '(contact_id = :contact OR deal_id = :deal)' : 'contact_id = :contact';
  return {
    task: await readRows(tx, 'task', `${tasks} AND state = 'open'`, about),
    run: await readRows(tx, 'run', "contact_id = :contact AND status IN ('running', 'paused')", about),
    deal: concern.dealId === null ? [] : await readRows(tx, 'deal', 'id = :deal', about),
  };
}

async function readRows(
  tx: Queryable,
  table: Table,
  where: string,
  about: Readonly<Record<'contact' | 'deal', Buffer | null>>,
): Promise<Snapshot[Table]> {
  const rows = await tx.rows<Record<string, string | number | null> & { id: IdBytes; version: number }>(
    `SELECT id, version, ${columnsOf[table].join(', ')} FROM ${table} WHERE ${where} ORDER BY id FOR UPDATE`,
    about,
  );
  return rows.map(({ id: bytes, version, ...columns }) => ({ id: idOf(bytes), version, columns }));
}

export async function keepForUndo(
  tx: Queryable,
  log: {
    entryId: string;
    userId: string;
    before: Snapshot;
    concerned: Concern;
    standing: StandingMove | null;
    now: string;
  },
): Promise<void> {
  const { before, concerned } = log;
  const known = new Set(before.task.map((row) => row.id));
  const after = await versionsAfter(tx, before, concerned);
  const state: z.infer<typeof kept> = {
    before,
    after: Object.fromEntries(after.map(({ id, version }) => [id, version])),
    madeTasks: after.filter(({ id, table }) => table === 'task' && !known.has(id)).map(({ id }) => id),
    ...concerned,
    standing: log.standing,
  };
  await tx.change(
    'INSERT INTO undo_step (entry_id, user_id, before_state, created_at) VALUES (:entry, :user, :state, :now)',
    {
      entry: bytesOf(log.entryId),
      user: bytesOf(log.userId),
      state: JSON.stringify(state),
      now: sqlInstant(log.now),
    },
  );
}

/** Versions of what was there before the act and of the tasks there are now, in one statement. */
async function versionsAfter(
  tx: Queryable,
  before: Snapshot,
  concern: Concern,
): Promise<{ readonly id: string; readonly table: Table; readonly version: number }[]> {
  const ids = (table: Table) => [noRow, ...before[table].map((row) => bytesOf(row.id))];
  const ofDeal = concern.isWholeDeal
    ? " UNION SELECT id, 'task', version FROM task WHERE deal_id = :deal AND state = 'open'"
    : '';
  const rows = await tx.rows<{ id: IdBytes; source: Table; version: number }>(
    `SELECT id, 'task' AS source, version FROM task WHERE id IN (:tasks)
     UNION SELECT id, 'task', version FROM task WHERE contact_id = :contact AND state = 'open'${ofDeal}
     UNION ALL SELECT id, 'run', version FROM run WHERE id IN (:runs)
     UNION ALL SELECT id, 'deal', version FROM deal WHERE id IN (:deals)`,
    {
      tasks: ids('task'),
      runs: ids('run'),
      deals: ids('deal'),
      contact: bytesOf(concern.contactId),
      deal: bytesOf(concern.dealId),
    },
  );
  return rows.map((row) => ({ id: idOf(row.id), table: row.source, version: row.version }));
}

/** A list in SQL has at least one member. */
const noRow = Buffer.alloc(16);

async function versionsOf(
  tx: Queryable,
  table: Table,
  ids: readonly string[],
): Promise<Record<string, number>> {
  if (ids.length === 0) return {};
  const rows = await tx.rows<{ id: IdBytes; version: number }>(
    `SELECT id, version FROM ${table} WHERE id IN (:ids)`,
    { ids: [...new Set(ids)].map((id) => bytesOf(id)) },
  );
  return Object.fromEntries(rows.map((row) => [idOf<string>(row.id), row.version]));
}

/**
 * Takes a log back: the entry is marked as removed, the tasks it made go, and tasks, runs and deal are as before.
 * @throws Problem `not-found` for another person's log, `already-done` when undone, `cannot-undo` when changed since.
 */
export async function undoLog(services: Services, who: SignedIn, entryId: string): Promise<void> {
  await services.database.transaction(async (tx) => {
    const [entry] = await tx.rows<{ kind: string }>('SELECT kind FROM journal_entry WHERE id = :id', {
      id: bytesOf(entryId),
    });
    // What the system noted of an act is taken back by that act's own undo, which puts more back than a log changes.
    if (entry?.kind === 'system') throw new Problem('not-found');
    await undoInside(tx, services, who, entryId);
  });
  services.feed.poke();
}

/** The same inside a transaction that takes back more. */
export async function undoInside(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  entryId: string,
): Promise<void> {
  const now = services.clock.now();
  const [step] = await tx.rows<{ user_id: IdBytes; before_state: string; undone_at: string | null }>(
    'SELECT user_id, before_state, undone_at FROM undo_step WHERE entry_id = :id FOR UPDATE',
    { id: bytesOf(entryId) },
  );
  if (!step || idOf(step.user_id) !== who.id) throw new Problem('not-found');
  if (step.undone_at !== null) throw new Problem('already-done');
  const state = kept.parse(jsonOf(step.before_state));
  await takeBackLetters(tx, entryId);
  await assertUnchanged(tx, state);
  await putBack(tx, state);
  const at = { id: bytesOf(entryId), now: sqlInstant(now) };
  await tx.change('UPDATE journal_entry SET removed_at = :now WHERE id = :id', at);
  await tx.change('UPDATE undo_step SET undone_at = :now WHERE entry_id = :id', at);
  await putStandingBack(tx, state, at.now);
  const read = await services.settings.read(tx);
  for (const id of await concernedContacts(tx, entryId)) await refreshTouchFacts(tx, services, read, id);
  await refreshNextSteps(tx, { contactIds: [state.contactId], dealIds: [state.dealId] }, now);
  await noteChange(tx, 'journal', entryId, who.id);
  if (state.contactId !== null) await noteChange(tx, 'contact', state.contactId, who.id);
}

/** Everybody an entry belongs to. */
export async function concernedContacts(tx: Queryable, entryId: string): Promise<string[]> {
  const rows = await tx.rows<{ id: IdBytes }>(
    `SELECT contact_id AS id FROM journal_entry WHERE id = :id AND contact_id IS NOT NULL
     UNION SELECT contact_id FROM entry_person WHERE entry_id = :id`,
    { id: bytesOf(entryId) },
  );
  return rows.map((row) => idOf<string>(row.id));
}

async function putStandingBack(
  tx: Queryable,
  { standing, contactId }: z.infer<typeof kept>,
  now: string,
): Promise<void> {
  if (standing === null || contactId === null) return;
  await tx.change(
    `UPDATE contact SET standing_id = :from, standing_set_at = :setAt, version = version + 1
      WHERE id = :id AND standing_id = :to`,
    {
      id: bytesOf(contactId),
      from: bytesOf(standing.from),
      to: bytesOf(standing.to),
      setAt: standing.setAt,
    },
  );
  await tx.change('UPDATE journal_entry SET removed_at = :now WHERE id = :id', {
    id: bytesOf(standing.entryId),
    now,
  });
}

/** A mail or text that was written with the log and still waits is taken back with it; one that left cannot be. */
async function takeBackLetters(tx: Queryable, entryId: string): Promise<void> {
  const entry = bytesOf(entryId);
  for (const table of ['mail', 'text_message']) {
    await tx.change(`UPDATE ${table} SET state = 'withdrawn' WHERE entry_id = :entry AND state = 'waiting'`, {
      entry,
    });
    const left = await tx.rows(
      `SELECT 1 FROM ${table} WHERE entry_id = :entry AND direction = 'out' AND state <> 'withdrawn'`,
      { entry },
    );
    if (left.length > 0) throw new Problem('cannot-undo');
  }
}

async function assertUnchanged(tx: Queryable, state: z.infer<typeof kept>): Promise<void> {
  const tables: [Table, string[]][] = [
    ['task', [...state.before.task.map((row) => row.id), ...state.madeTasks]],
    ['run', state.before.run.map((row) => row.id)],
    ['deal', state.before.deal.map((row) => row.id)],
  ];
  for (const [table, ids] of tables) {
    const versions = await versionsOf(tx, table, ids);
    if (ids.some((id) => (versions[id] ?? 0) !== state.after[id])) throw new Problem('cannot-undo');
  }
}

async function putBack(tx: Queryable, state: z.infer<typeof kept>): Promise<void> {
  for (const run of state.before.run) await forgetSteps(tx, bytesOf(run.id), Number(run.columns.step));
  if (state.madeTasks.length > 0)
    await tx.change('DELETE FROM task WHERE id IN (:ids)', { ids: state.madeTasks.map((id) => bytesOf(id)) });
  for (const table of ['task', 'run', 'deal'] as const)
    for (const row of state.before[table]) {
      // What was kept by an older version may lack a column, or name one that is no more.
      const known = columnsOf[table].filter((column) => column in row.columns);
      const assignments = known.map((column) => `${column} = :${column}`).join(', ');
      await tx.change(`UPDATE ${table} SET ${assignments}, version = version + 1 WHERE id = :id`, {
        ...row.columns,
        id: bytesOf(row.id),
      });
    }
}

/** What the log did to the run's steps is as if it had not been. */
async function forgetSteps(tx: Queryable, run: IdBytes, step: number): Promise<void> {
  await tx.change('DELETE FROM run_step WHERE run_id = :run AND step > :step', { run, step });
  await tx.change(
    'UPDATE run_step SET acted_at = NULL, answered_at = NULL WHERE run_id = :run AND step = :step',
    {
      run,
      step,
    },
  );
}
