import type { DealId, Logged, LogEntry, NextStep, Outcome, TaskId } from '@kettle/contract';
import { localDate, localMoment } from '@kettle/core/time';
import type { RunEvent } from '@kettle/core/cadences';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/http/problem';
import type { Services } from '../../platform/services';
import { applyEvent, type AppliedEvent } from '../../processes/cadences/apply-event';
import { readRun, readRunsOf, type StoredRun } from '../../processes/cadences/run-rows';
import { noteChanges } from '../../platform/change-feed/feed';
import { assertMayChange } from '../../records/users/rights';
import type { SignedIn } from '../../records/users/session';
import { outcomeNamed, type AllSettings } from '../../records/settings/settings';
import { moveStanding } from '../../records/contacts/move-standing';
import { settleStirrings } from '../../processes/stirrings/stirrings';
import { repeatTask } from '../tasks/repeat-task';
import { insertTasks, readTask, type Task } from '../tasks/tasks';
import { refreshNextSteps } from '../touch/next-steps';
import { refreshTouchFacts } from '../touch/touch-facts';
import { keepForUndo, takeSnapshot } from './undo';
import { insertEntries } from './write-entry';

interface LogContext {
  readonly tx: Queryable;
  readonly services: Services;
  readonly settings: AllSettings;
  readonly who: SignedIn;
  readonly now: string;
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
  const reply = await services.database.transaction((tx) => logInside(tx, services, who, log));
  services.feed.poke();
  return reply;
}

/** The same inside a transaction that does more. */
export async function logInside(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  log: LogEntry,
): Promise<Logged> {
  const isKnown = await tx.rows('SELECT 1 FROM journal_entry WHERE id = :id', { id: bytesOf(log.id) });
  if (isKnown.length > 0)
    return { entryId: log.id, nextTaskId: null, nextOn: null, words: 'Logged already.' };
  return write(await readContext(tx, services, who, log));
}

async function readContext(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  log: LogEntry,
): Promise<LogContext> {
  const settings = await services.settings.read(tx);
  const now = services.clock.now();
  const outcome = outcomeNamed(settings, log.outcomeId);
  if (!outcome) throw new Problem('wrong-outcome', { kind: 'step' });
  if (log.at !== null && log.at > now) throw new Problem('in-the-future');
  const [contact] = await tx.rows<{
    company_id: IdBytes | null;
    owner_id: IdBytes | null;
    standing_id: IdBytes;
    standing_group: 'prospect';
  }>(
    `SELECT c.company_id, c.owner_id, c.standing_id, s.standing_group FROM contact c JOIN standing s ON s.id = c.standing_id
      WHERE c.id = :id FOR UPDATE`,
    { id: bytesOf(log.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(tx, who, idOrNull(contact.owner_id));
  const { task, runId } = await readOpenTask(tx, log);
  return {
    tx,
    services,
    settings,
    who,
    now,
    log,
    outcome,
    contact: {
      companyId: idOrNull(contact.company_id),
      standing: { id: idOf(contact.standing_id), group: contact.standing_group },
    },
    task,
    runId,
    dealId: log.dealId ?? task?.dealId ?? null,
  };
}

async function readOpenTask(
  tx: Queryable,
  log: LogEntry,
): Promise<{ task: Task | null; runId: string | null }> {
  if (log.taskId === null) return { task: null, runId: null };
  const [row] = await tx.rows<{ run_id: IdBytes | null }>(
    'SELECT run_id FROM task WHERE id = :id FOR UPDATE',
    {
      id: bytesOf(log.taskId),
    },
  );
  const task = await readTask(tx, log.taskId);
  if (task.contactId !== null && task.contactId !== log.contactId)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'taskId', message: 'is about somebody else' }] },
    );
  if (task.state !== 'open') throw new Problem('already-done', {}, { current: task });
  if (log.taskVersion !== null && log.taskVersion !== task.version)
    throw new Problem('stale', {}, { current: task });
  return { task, runId: row ? idOrNull(row.run_id) : null };
}

async function write(context: LogContext): Promise<Logged> {
  const { tx, log, now, who, settings, services, task, dealId } = context;
  const concerned = { contactId: log.contactId, dealId };
  const before = await takeSnapshot(tx, concerned);
  await writeEntry(context);
  if (task !== null) await finishTask(tx, task, now);
  if (task !== null) await repeatTask(tx, task.id, now, localDate(now, who.zone));
  const to = context.outcome.standingId;
  const standing = to === null ? null : await moveStanding(tx, who, log.contactId, to, now);
  const applied = await applyToRuns(context);
  const nextTaskId = await writeNextStep(context, applied);
  for (const id of new Set([log.contactId, ...log.alsoContactIds]))
    await refreshTouchFacts(tx, services, settings, id);
  await settleStirrings(tx, log.contactId, who.id, now);
  await refreshNextSteps(tx, { contactIds: [log.contactId], dealIds: [dealId, task?.dealId ?? null] }, now);
  await keepForUndo(tx, { entryId: log.id, userId: who.id, before, concerned, standing, now });
  const changed = [
    ['journal', log.id],
    ['contact', log.contactId],
    ['deal', dealId],
  ] as const;
  await noteChanges(tx, changed, who.id);
  const next = nextTaskId === null ? null : await readTask(tx, nextTaskId);
  return {
    entryId: log.id,
    nextTaskId,
    nextOn: next?.dueOn ?? null,
    words: next ? `Next: ${next.purpose}` : 'Nothing more planned.',
  };
}

async function writeEntry({ tx, log, outcome, contact, who, runId, dealId, now }: LogContext): Promise<void> {
  const entry = {
    id: log.id,
    at: log.at ?? now,
    kind: outcome.kind,
    direction: outcome.direction,
    outcomeId: outcome.id,
    outcomeLabel: outcome.label,
    counts: outcome.counts,
    minutes: log.minutes,
    body: log.body,
    done: log.done,
    alsoContactIds: log.alsoContactIds,
    userId: who.id,
    contactId: log.contactId,
    companyId: contact.companyId,
    dealId,
    taskId: log.taskId,
    runId,
  };
  await insertEntries(tx, [entry], now);
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
  const { tx, services, settings, log, outcome, who, runId } = context;
  let own: { stored: StoredRun; applied: AppliedEvent } | null = null;
  for (const stored of await readRunsOf(tx, log.contactId, 'active')) {
    const isOwn = stored.id === runId;
    const event = eventFor(context, stored, isOwn);
    if (event === null) continue;
    const applied = await applyEvent(tx, services, settings, stored, event, who.id);
    if (isOwn && !outcome.endsRun) own = { stored, applied };
  }
  return own;
}

function eventFor({ log, outcome, now }: LogContext, stored: StoredRun, isOwn: boolean): RunEvent | null {
  const base = { id: `log:${log.id}`, at: now };
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

async function writeNextStep(
  context: LogContext,
  own: { stored: StoredRun; applied: AppliedEvent } | null,
): Promise<TaskId | null> {
  const { log } = context;
  const { next } = log;
  switch (next.kind) {
    case 'run':
      if (own === null) throw new Problem('run-not-active');
      return own.applied.taskId;
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

function assertAhead({ who, now }: LogContext, next: Extract<NextStep, { kind: 'task' }>): void {
  if (next.dueOn >= localDate(now, who.zone)) return;
  throw new Problem('in-the-past', {}, { fields: [{ path: 'next.dueOn', message: 'lies in the past' }] });
}

/** The rep set another day or channel while the cadence goes on: its next step moves there, and there is still one. */
async function moveRunTask(
  { tx, who }: LogContext,
  taskId: TaskId,
  next: Extract<NextStep, { kind: 'task' }>,
): Promise<TaskId> {
  await tx.change(
    `UPDATE task SET channel = :channel, purpose = :purpose, due_on = :dueOn, minutes = :minutes, promised_at = :promisedAt
      WHERE id = :id`,
    {
      id: bytesOf(taskId),
      channel: next.channel,
      purpose: next.purpose,
      dueOn: next.dueOn,
      minutes: next.minutes,
      promisedAt: sqlInstant(promisedInstant(next, who)),
    },
  );
  await tx.change('UPDATE run SET next_on = :dueOn WHERE id = (SELECT run_id FROM task WHERE id = :id)', {
    id: bytesOf(taskId),
    dueOn: next.dueOn,
  });
  return taskId;
}

async function addTask(
  context: LogContext,
  next: Extract<NextStep, { kind: 'task' }>,
): Promise<TaskId | null> {
  const { tx, who, log, contact, dealId, now } = context;
  const { channel, purpose, dueOn, minutes } = next;
  const about = {
    ownerId: who.id,
    contactId: log.contactId,
    companyId: contact.companyId,
    dealId,
    run: null,
  };
  const promisedAt = promisedInstant(next, who);
  const [id] = await insertTasks(tx, [{ channel, purpose, dueOn, minutes, promisedAt, ...about }], now);
  return id ?? null;
}

export function promisedInstant(
  next: { dueOn: string; promisedMinute: number | null },
  who: { zone: string },
): string | null {
  return next.promisedMinute === null ? null : localMoment(next.dueOn, next.promisedMinute, who.zone);
}

/** Leaving a person with an open deal and no next step at all needs a reason. */
async function assertReason({ tx, log, dealId }: LogContext, reason: string): Promise<void> {
  if (reason.trim() !== '') return;
  const deals = await tx.rows(
    "SELECT 1 FROM deal WHERE status = 'open' AND (contact_id = :contact OR id = :deal) LIMIT 1",
    { contact: bytesOf(log.contactId), deal: bytesOf(dealId) },
  );
  const tasks = await tx.rows("SELECT 1 FROM task WHERE contact_id = :contact AND state = 'open' LIMIT 1", {
    contact: bytesOf(log.contactId),
  });
  if (deals.length > 0 && tasks.length === 0)
    throw new Problem(
      'reason-needed',
      {},
      { fields: [{ path: 'next.reason', message: 'say why there is none' }] },
    );
}

async function stopRun(
  { tx, services, settings, log, who, now }: LogContext,
  stored: StoredRun,
  reason: string,
): Promise<void> {
  const current = await readRun(tx, stored.id);
  if (current)
    await applyEvent(
      tx,
      services,
      settings,
      current,
      { id: `stop:${log.id}`, at: now, kind: 'stopped', reason },
      who.id,
    );
}
