import type { DealId, Logged, LogEntry, NextStep, Outcome, TaskId } from '@kettle/contract';
import { localDate } from '@kettle/core/time';
import type { RunEvent } from '@kettle/core/cadences';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { type AppliedEvent, type StoredRun, applyEvent, readRun, readRunsOf } from '../cadences/index';
import { type SignedIn } from '../../records/users/index';
import { assertMayChange, assertMayShare } from '../../records/rights/index';
import { outcomeNamed } from '../../records/settings/index';
import { moveStanding } from '../../records/contacts/index';
import { tickWhatWasDone } from '../deals/index';
import { settleStirrings } from '../stirrings/index';
import { type Task, insertTasks, promisedInstant, readTask, repeatTask } from '../../activity/tasks/index';
import { insertEntries } from '../../records/entries/index';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

interface LogContext {
  readonly w: PersonWork;
  readonly log: LogEntry;
  readonly outcome: Outcome;
  readonly contact: {
    readonly companyId: string | null;
    readonly standing: { readonly id: string; readonly group: 'prospect' | 'customer' | 'former' };
  };
  readonly task: Task | null;
  readonly runId: string | null;
  readonly dealId: DealId | null;
}

/**
 * Logs one act: the entry, the finished task, the cadence, the next step, touch facts and tethers, all or nothing.
 * The same log sent again (by its id) changes nothing and answers the same.
 */
export async function logAct(services: Services, who: SignedIn, log: LogEntry): Promise<Logged> {
  return work(services, who, (w) => logInside(w, log));
}

/** The same inside a transaction that does more. */
export async function logInside(w: PersonWork, log: LogEntry): Promise<Logged> {
  const context = await readContext(w, log);
  return context === null
    ? { entryId: log.id, nextTaskId: null, nextOn: null, words: $localize`Logged already.` }
    : write(context);
}

/** Null when the entry is there already. */
async function readContext(w: PersonWork, log: LogEntry): Promise<LogContext | null> {
  const outcome = outcomeNamed(await w.settings(), log.outcomeId);
  if (!outcome) throw new Problem('wrong-outcome', { kind: 'step' });
  if (log.at !== null && log.at > w.now) throw new Problem('in-the-future');
  const [contact] = await w.rows<
    Row<'contact', 'company_id' | 'owner_id' | 'standing_id'> &
      Row<'standing', 'standing_group'> & { is_known: number }
  >(
    `SELECT c.company_id, c.owner_id, c.standing_id, s.standing_group,
            EXISTS (SELECT 1 FROM journal_entry WHERE id = :entry) AS is_known
       FROM contact c JOIN standing s ON s.id = c.standing_id WHERE c.id = :id FOR UPDATE`,
    { id: bytesOf(log.contactId), entry: bytesOf(log.id) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(contact.owner_id));
  if (contact.is_known === 1) return null;
  const { task, runId } = await readOpenTask(w, log);
  const dealId = log.dealId ?? task?.dealId ?? null;
  await assertMayShare(w, { alsoContactIds: log.alsoContactIds, dealId });
  return {
    w,
    log,
    outcome,
    contact: {
      companyId: idOrNull(contact.company_id),
      standing: { id: idOf(contact.standing_id), group: contact.standing_group },
    },
    task,
    runId,
    dealId,
  };
}

async function readOpenTask(
  tx: Queryable,
  log: LogEntry,
): Promise<{ task: Task | null; runId: string | null }> {
  if (log.taskId === null) return { task: null, runId: null };
  const [row] = await tx.rows<Row<'task', 'run_id'>>('SELECT run_id FROM task WHERE id = :id FOR UPDATE', {
    id: bytesOf(log.taskId),
  });
  const task = await readTask(tx, log.taskId);
  if (task.contactId !== null && task.contactId !== log.contactId)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'taskId', message: $localize`is about somebody else` }] },
    );
  if (task.state !== 'open') throw new Problem('already-done', {}, { current: task });
  return { task, runId: row ? idOrNull(row.run_id) : null };
}

async function write(context: LogContext): Promise<Logged> {
  const { w, log, task } = context;
  await writeEntry(context);
  if (task !== null) await finishTask(w, task, w.now);
  if (task !== null) await repeatTask(w, task.id);
  const ticked = context.dealId === null ? [] : await tickWhatWasDone(w, context.dealId, log.done);
  const to = context.outcome.standingId;
  if (to !== null) await moveStanding(w, log.contactId, to);
  const applied = await applyToRuns(context);
  const next = await writeNextStep(context, applied);
  await settleStirrings(w, log.contactId);
  w.say($localize`${context.outcome.label}:label: logged`);
  const also = ticked.length === 0 ? '' : $localize` Ticked: ${ticked.join(', ')}:ticked:.`;
  return {
    entryId: log.id,
    nextTaskId: next?.id ?? null,
    nextOn: next?.dueOn ?? null,
    words: (next ? $localize`Next: ${next.purpose}:purpose:` : $localize`Nothing more planned.`) + also,
  };
}

async function writeEntry({ w, log, outcome, contact, runId, dealId }: LogContext): Promise<void> {
  const entry = {
    id: log.id,
    at: log.at ?? w.now,
    kind: outcome.kind,
    direction: outcome.direction,
    outcomeId: outcome.id,
    outcomeLabel: outcome.label,
    counts: outcome.counts,
    minutes: log.minutes,
    body: log.body,
    done: log.done,
    alsoContactIds: log.alsoContactIds,
    userId: w.who.id,
    contactId: log.contactId,
    companyId: contact.companyId,
    dealId,
    taskId: log.taskId,
    runId,
  };
  await insertEntries(w, [entry]);
}

async function finishTask(tx: Queryable, task: Task, now: string): Promise<void> {
  const changed = await tx.change(
    "UPDATE task SET state = 'done', finished_at = :now, version = version + 1 WHERE id = :id AND state = 'open'",
    { id: bytesOf(task.id), now: sqlInstant(now) },
  );
  if (changed === 0) throw new Problem('already-done', {}, { current: task });
}

/** The task's own run goes a step on; an outcome that reaches the purpose ends every run of the person. */
async function applyToRuns(
  context: LogContext,
): Promise<{ stored: StoredRun; applied: AppliedEvent } | null> {
  const { w, log, outcome, runId } = context;
  let own: { stored: StoredRun; applied: AppliedEvent } | null = null;
  for (const stored of await readRunsOf(w, log.contactId, 'active')) {
    const isOwn = stored.id === runId;
    const event = eventFor(context, stored, isOwn);
    if (event === null) continue;
    const applied = await applyEvent(w, stored, event);
    if (isOwn && !outcome.endsRun) own = { stored, applied };
  }
  return own;
}

function eventFor({ w, log, outcome }: LogContext, stored: StoredRun, isOwn: boolean): RunEvent | null {
  const base = { id: `log:${log.id}`, at: w.now };
  if (outcome.direction === 'in' && outcome.counts === 'conversation')
    return { ...base, kind: 'replied', channel: outcome.kind };
  const words = `${outcome.label.toLowerCase()} (${outcome.kind})`;
  if (isOwn)
    return {
      ...base,
      kind: 'step-done',
      step: stored.run.step,
      counts: outcome.counts,
      endsRun: outcome.endsRun,
      words,
    };
  if (outcome.endsRun) return { ...base, kind: 'stopped', reason: words };
  return outcome.counts === 'conversation' ? { ...base, kind: 'sign', sign: 'spoke' } : null;
}

type NextTask = Pick<Task, 'id' | 'dueOn' | 'purpose'>;

async function writeNextStep(
  context: LogContext,
  own: { stored: StoredRun; applied: AppliedEvent } | null,
): Promise<NextTask | null> {
  const { w, log } = context;
  const { next } = log;
  switch (next.kind) {
    case 'run':
      if (own === null) throw new Problem('run-not-active');
      return own.applied.taskId === null ? null : readTask(w, own.applied.taskId);
    case 'task':
      assertAhead(context, next);
      if (own?.applied.taskId) return moveRunTask(context, own.applied.taskId, next);
      return addTask(context, next);
    case 'none':
      await assertReason(context, next.reason);
      if (own !== null) await stopRun(context, own.stored, next.reason || context.outcome.label);
      return null;
  }
}

function assertAhead({ w }: LogContext, next: Extract<NextStep, { kind: 'task' }>): void {
  if (next.dueOn >= localDate(w.now, w.who.zone)) return;
  throw new Problem(
    'in-the-past',
    {},
    { fields: [{ path: 'next.dueOn', message: $localize`lies in the past` }] },
  );
}

/** The rep set another day or channel while the cadence goes on: its next step moves there, and there is still one. */
async function moveRunTask(
  { w }: LogContext,
  taskId: TaskId,
  next: Extract<NextStep, { kind: 'task' }>,
): Promise<NextTask> {
  await w.change(
    `UPDATE task SET channel = :channel, purpose = :purpose, due_on = :dueOn, minutes = :minutes, promised_at = :promisedAt
      WHERE id = :id`,
    {
      id: bytesOf(taskId),
      channel: next.channel,
      purpose: next.purpose,
      dueOn: next.dueOn,
      minutes: next.minutes,
      promisedAt: sqlInstant(promisedInstant(next, w.who)),
    },
  );
  await w.change('UPDATE run SET next_on = :dueOn WHERE id = (SELECT run_id FROM task WHERE id = :id)', {
    id: bytesOf(taskId),
    dueOn: next.dueOn,
  });
  return { ...next, id: taskId };
}

async function addTask(
  context: LogContext,
  next: Extract<NextStep, { kind: 'task' }>,
): Promise<NextTask | null> {
  const { w, log, contact, dealId } = context;
  const { channel, purpose, dueOn, minutes } = next;
  const about = {
    ownerId: w.who.id,
    contactId: log.contactId,
    companyId: contact.companyId,
    dealId,
    run: null,
  };
  const promisedAt = promisedInstant(next, w.who);
  const [id] = await insertTasks(w, [{ channel, purpose, dueOn, minutes, promisedAt, ...about }]);
  return id === undefined ? null : { ...next, id };
}

/** Leaving a person with an open deal and no next step at all needs a reason. */
async function assertReason({ w, log, dealId }: LogContext, reason: string): Promise<void> {
  if (reason.trim() !== '') return;
  const deals = await w.rows(
    "SELECT 1 FROM deal WHERE status = 'open' AND (contact_id = :contact OR id = :deal) LIMIT 1",
    { contact: bytesOf(log.contactId), deal: bytesOf(dealId) },
  );
  const tasks = await w.rows("SELECT 1 FROM task WHERE contact_id = :contact AND state = 'open' LIMIT 1", {
    contact: bytesOf(log.contactId),
  });
  if (deals.length > 0 && tasks.length === 0)
    throw new Problem(
      'reason-needed',
      {},
      { fields: [{ path: 'next.reason', message: $localize`say why there is none` }] },
    );
}

async function stopRun({ w, log }: LogContext, stored: StoredRun, reason: string): Promise<void> {
  const current = await readRun(w, stored.id);
  if (current) await applyEvent(w, current, { id: `stop:${log.id}`, at: w.now, kind: 'stopped', reason });
}
