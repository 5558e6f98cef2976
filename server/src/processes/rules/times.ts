import { addDays, daysBetween, localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import type { RuleWhen } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { enqueue, type NewJob } from '../../platform/jobs/job-table';
import type { DatabaseJob } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { readSignedIn } from '../../records/users/index';
import { fireJobOf } from './fire';
import { findRule, readTimed } from './stored-rules';
import { findRecords, subjects, type Asking, type FoundRecord } from './subjects';

export const lookKind = 'look-rule';

/** What was missed longer ago is not made up for. */
const mostCaughtUp = 90;
/** One look finds so many: more than a rule may do on a day. */
const mostFound = 20_000;

/** Each rule that goes by the calendar is asked to look every hour; it looks at each day once, by its author’s zone. */
export async function dueLooks({ database }: Services, now: string): Promise<readonly NewJob[]> {
  return (await readTimed(database)).map(({ id }) => ({
    kind: lookKind,
    dedupeKey: `${lookKind}:${id}:${now.slice(0, 13)}`,
    payload: { id },
    dueAt: now,
  }));
}

/** Asks for what the days since the last look bring. Days on which nothing ran are made up for, or skipped, as the rule says. */
export const lookRule: DatabaseJob = {
  words: $localize`looking what the day brings for a house rule`,
  effect: 'database',
  run: async (w, payload) => {
    const { id } = z.object({ id: z.uuid() }).parse(payload);
    const rule = await findRule(w, id, true);
    if (rule?.isOn !== true || rule.onSince === null) return;
    const who = await readSignedIn(w, rule.userId, w.now);
    const today = localDate(w.now, who.zone);
    const last = rule.lookedOn ?? addDays(localDate(rule.onSince, who.zone), -1);
    if (last >= today) return;
    const from =
      rule.missed === 'skip' || daysBetween(last, today) > mostCaughtUp
        ? addDays(today, rule.missed === 'skip' ? -1 : -mostCaughtUp)
        : last;
    const asking = { subject: rule.subject, asks: rule.if, who };
    for (const { id: recordId, on } of await findCrossed(w, w.services, asking, rule.when, from, today))
      await enqueue(
        w,
        fireJobOf(
          {
            ...{ ruleId: rule.id, recordId, cause: `${recordId}:${on}`, chain: [rule.id] },
            isStopped: false,
          },
          w.now,
        ),
      );
    await w.change('UPDATE house_rule SET looked_on = :today WHERE id = :id', {
      id: bytesOf(rule.id),
      today,
    });
  },
};

/** A record whose day came. */
export type Crossed = FoundRecord & { readonly on: string };

/**
 * Records whose day lies after one and not after another, newest day first: a date of theirs and so many days, so many days without contact or
 * in a stage, by the zone of whoever the rule acts for.
 */
export async function findCrossed(
  db: Queryable,
  services: Services,
  asking: Asking,
  when: RuleWhen,
  after: string,
  until: string,
): Promise<Crossed[]> {
  if (when.kind === 'event') return [];
  const { zone } = asking.who;
  const { days } = when;
  const [a, b] = [addDays(after, -days), addDays(until, -days)];
  if (when.kind === 'date') {
    const column = (subjects[asking.subject].dates as Record<string, string>)[when.date]!;
    const found = await findRecords<{ crossed: string }>(db, services, asking, {
      // What is parked or set aside has a wake date, and nothing else has.
      where: `${column} > :crossedA AND ${column} <= :crossedB AND ${when.date === 'wake' ? 'TRUE' : subjects[asking.subject].goesOn}`,
      parameters: { crossedA: a, crossedB: b },
      ...{ also: `, ${column} AS crossed`, order: `${column} DESC`, limit: mostFound },
    });
    return found.map(({ row, ...record }) => ({ ...record, on: addDays(row.crossed, days) }));
  }
  const column = when.kind === 'stage' ? 'd.stage_since' : 'COALESCE(c.last_touch_at, c.created_at)';
  const found = await findRecords<{ crossed: string }>(db, services, asking, {
    where: `${column} >= :crossedA AND ${column} < :crossedB AND ${subjects[asking.subject].goesOn}`,
    parameters: {
      crossedA: sqlInstant(localMoment(addDays(a, 1), 0, zone)),
      crossedB: sqlInstant(localMoment(addDays(b, 1), 0, zone)),
    },
    ...{ also: `, ${column} AS crossed`, order: `${column} DESC`, limit: mostFound },
  });
  return found.map(({ row, ...record }) => ({
    ...record,
    on: addDays(localDate(instantOf(row.crossed), zone), days),
  }));
}
