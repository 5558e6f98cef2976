import { hookEvents, ruleEvents } from '@kettle/contract';
import { enqueueWhere } from '../../platform/jobs/job-table';
import type { Hearer } from '../../platform/work/events';

export const matchKind = 'match-rules';

const heard = new Set(
  Object.values(ruleEvents)
    .flat()
    .map((name) => `${hookEvents[name].topic} ${hookEvents[name].kind}`),
);
const eventsAtOnce = 200;

/**
 * Asks for a look at the house rules where one waits for what just happened: in the transaction it happened in, by one statement that nobody
 * waits for. Whether its questions fit is asked later, so that a log costs the same whether fifty rules wait or none.
 */
export const hearForRules: Hearer = async (tx, events, now) => {
  const mine = events.filter(({ topic, kind }) => heard.has(`${topic} ${kind}`));
  for (let from = 0; from < mine.length; from += eventsAtOnce) {
    const some = mine.slice(from, from + eventsAtOnce);
    const ids = some.map(({ id }) => id);
    await enqueueWhere(
      tx,
      { kind: matchKind, dedupeKey: `${matchKind}:${ids[0]!}`, payload: { ids }, dueAt: now },
      {
        condition: `EXISTS (SELECT 1 FROM house_rule_event e JOIN house_rule r ON r.id = e.rule_id
          WHERE r.is_on = 1 AND r.removed_at IS NULL AND CONCAT(e.topic, ' ', e.kind) IN (:heard))`,
        parameters: { heard: [...new Set(some.map(({ topic, kind }) => `${topic} ${kind}`))] },
      },
    );
  }
};
