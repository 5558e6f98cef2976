import { hookEvents, ruleEvent } from '@kettle/contract';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueueFound } from '../../platform/jobs/job-table';
import type { Transaction } from '../../platform/database/database';
import type { Hearer, WrittenEvent } from '../../platform/work/events';

export const sendHookKind = 'send-hook';

const told = new Set(Object.values(hookEvents).map(({ topic, kind }) => `${topic} ${kind}`));
const eventsAtOnce = 500;

/**
 * Writes down which addresses are to be told of what just happened, with the work that tells them: in the transaction it happened in, so
 * that neither is there without the other. Where there is no web hook it finds none, and nobody waited for that.
 */
export const hearForHooks: Hearer = async (tx, events, now) => {
  const ids = events.filter(({ topic, kind }) => told.has(`${topic} ${kind}`)).map(({ id }) => bytesOf(id));
  await tellByRule(tx, events, now);
  for (let from = 0; from < ids.length; from += eventsAtOnce) {
    const some = ids.slice(from, from + eventsAtOnce);
    await tx.later(
      `INSERT INTO hook_call (event_id, hook_id, type, made_at, due_at)
       SELECT e.id, h.id, s.name, :now, :now
         FROM hook_event s JOIN hook h ON h.id = s.hook_id AND h.is_on = 1 AND h.removed_at IS NULL
         JOIN event e ON e.topic = s.topic AND e.kind = s.kind AND e.id IN (:ids)`,
      { ids: some, now: sqlInstant(now) },
    );
    await enqueueFound(tx, {
      kind: sendHookKind,
      keyEnd: events[from]!.id,
      found: 'SELECT DISTINCT hook_id AS id FROM hook_call WHERE event_id IN (:ids)',
      parameters: { ids: some },
      dueAt: now,
    });
  }
};

/** What house rules send: to the web hooks that their events name, whatever these are told besides. */
async function tellByRule(tx: Transaction, events: readonly WrittenEvent[], now: string): Promise<void> {
  const ids = events.filter(({ kind }) => kind === 'rule-fired').map(({ id }) => bytesOf(id));
  if (ids.length === 0) return;
  await tx.later(
    `INSERT INTO hook_call (event_id, hook_id, type, made_at, due_at)
     SELECT e.id, h.id, :type, :now, :now FROM event e
       JOIN hook h ON h.id = UNHEX(REPLACE(JSON_VALUE(e.data, '$.hookId'), '-', '')) AND h.is_on = 1 AND h.removed_at IS NULL
      WHERE e.id IN (:ids)`,
    { ids, type: ruleEvent, now: sqlInstant(now) },
  );
  await enqueueFound(tx, {
    ...{ kind: sendHookKind, keyEnd: `rule:${idOf<string>(ids[0]!)}`, dueAt: now, parameters: { ids } },
    found: 'SELECT DISTINCT hook_id AS id FROM hook_call WHERE event_id IN (:ids)',
  });
}
