import { hookEvents } from '@kettle/contract';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { enqueueFound } from '../../platform/jobs/job-table';
import type { Hearer } from '../../platform/work/events';

export const sendHookKind = 'send-hook';

const told = new Set(Object.values(hookEvents).map(({ topic, kind }) => `${topic} ${kind}`));
const eventsAtOnce = 500;

/**
 * Writes down which addresses are to be told of what just happened, with the work that tells them: in the transaction it happened in, so
 * that neither is there without the other. Where there is no web hook it finds none, and nobody waited for that.
 */
export const hearForHooks: Hearer = async (tx, events, now) => {
  const ids = events.filter(({ topic, kind }) => told.has(`${topic} ${kind}`)).map(({ id }) => bytesOf(id));
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
