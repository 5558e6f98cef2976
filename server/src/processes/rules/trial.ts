import { trialDays, type RuleBody, type RuleTrial } from '@kettle/contract';
import { addDays, localDate, localMoment } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { candidatesOf, readHappened, type Happened } from './match';
import { sayEvent } from './say';
import { eventOf, wentThere } from './stored-rules';
import { findAmong, type Asking, type FoundRecord } from './subjects';
import { findCrossed, type Crossed } from './times';

const mostEvents = 20_000;
const eventsAtOnce = 1000;
const mostShown = 100;

/** A time a rule would have done something. */
type Would = Crossed & { readonly eventId?: string };

/**
 * What a rule would have done in the last 90 days, as records are today: what its questions ask is not kept for each day of the past.
 * Nothing is done.
 */
export async function tryRule(services: Services, who: SignedIn, rule: RuleBody): Promise<RuleTrial> {
  const asking = { subject: rule.subject, asks: rule.if, who };
  const { found, isCut } =
    rule.when.kind === 'event'
      ? await wouldHear(services, asking, rule)
      : { found: await wouldCross(services, asking, rule), isCut: false };
  const byDay = new Map<string, number>();
  for (const { on } of found) byDay.set(on, (byDay.get(on) ?? 0) + 1);
  const shown = found.slice(0, mostShown);
  const records = [];
  for (const { id, name, path, on, eventId } of shown)
    records.push({
      ...{ recordId: id, name, path, on },
      because:
        eventId !== undefined && rule.when.kind === 'event'
          ? await sayEvent(services.database, eventId, rule.when.event)
          : '',
    });
  return { count: found.length, mostADay: Math.max(0, ...byDay.values()), records, isCut };
}

async function wouldHear(
  services: Services,
  asking: Asking,
  rule: RuleBody,
): Promise<{ found: Would[]; isCut: boolean }> {
  const { database, clock } = services;
  const event = eventOf(rule)!;
  const since = new Date(clock.millis() - trialDays * 86_400_000).toISOString();
  const rows = await database.rows<Row<'event', 'id'>>(
    `SELECT v.id FROM event v WHERE v.at >= :since AND v.topic = :topic AND v.kind = :kind
      ORDER BY v.at DESC, v.id DESC LIMIT ${mostEvents + 1}`,
    { since: sqlInstant(since), topic: event.topic, kind: event.kind },
  );
  const ids = rows.slice(0, mostEvents).map(({ id }) => idOf<string>(id));
  const found: Would[] = [];
  for (let from = 0; from < ids.length; from += eventsAtOnce) {
    const happened = (await readHappened(database, ids.slice(from, from + eventsAtOnce)))
      .filter(({ to }) => wentThere(rule, to))
      .reverse();
    found.push(...(await ofHappened(services, asking, rule, happened)));
  }
  return { found, isCut: rows.length > mostEvents };
}

async function ofHappened(
  services: Services,
  asking: Asking,
  rule: RuleBody,
  happened: readonly Happened[],
): Promise<Would[]> {
  const candidates = happened.map((event) => candidatesOf(rule, event));
  const records = new Map<string, FoundRecord>(
    (await findAmong(services.database, services, asking, [...new Set(candidates.flat())])).map((each) => [
      each.id,
      each,
    ]),
  );
  return happened.flatMap((event, at) => {
    const id = candidates[at]!.find((each) => records.has(each));
    return id === undefined
      ? []
      : [{ ...records.get(id)!, on: localDate(event.at, asking.who.zone), eventId: event.id }];
  });
}

async function wouldCross(services: Services, asking: Asking, rule: RuleBody): Promise<Would[]> {
  const { database, clock } = services;
  const today = localDate(clock.now(), asking.who.zone);
  const after = addDays(today, -trialDays);
  const now = await findCrossed(database, services, asking, rule.when, after, today);
  const earlier =
    rule.when.kind === 'silence' ? await earlierSilences(services, asking, rule.when.days, after, today) : [];
  return [...now, ...earlier].sort((one, other) => (one.on < other.on ? 1 : one.on > other.on ? -1 : 0));
}

/** Silences that a later contact ended: what was quiet then is not quiet now. */
async function earlierSilences(
  services: Services,
  asking: Asking,
  days: number,
  after: string,
  until: string,
): Promise<Would[]> {
  const { database } = services;
  const { zone } = asking.who;
  const [a, b] = [addDays(after, -days), addDays(until, -days)];
  const rows = await database.rows<{ id: IdBytes<string>; at: string }>(
    `SELECT t.contact_id AS id, t.at FROM (
        SELECT j.contact_id, j.at, LEAD(j.at) OVER (PARTITION BY j.contact_id ORDER BY j.at) AS next_at FROM journal_entry j
         WHERE j.at >= :a AND j.contact_id IS NOT NULL AND j.kind NOT IN ('system', 'note') AND j.removed_at IS NULL) t
      WHERE t.at < :b AND t.next_at >= t.at + INTERVAL :days DAY ORDER BY t.at DESC LIMIT ${mostEvents}`,
    {
      a: sqlInstant(localMoment(addDays(a, 1), 0, zone)),
      b: sqlInstant(localMoment(addDays(b, 1), 0, zone)),
      days,
    },
  );
  const ids = [...new Set(rows.map(({ id }) => idOf<string>(id)))];
  const records = new Map<string, FoundRecord>();
  for (let from = 0; from < ids.length; from += eventsAtOnce)
    for (const each of await findAmong(database, services, asking, ids.slice(from, from + eventsAtOnce)))
      records.set(each.id, each);
  return rows.flatMap((row) => {
    const record = records.get(idOf<string>(row.id));
    return record ? [{ ...record, on: addDays(localDate(instantOf(row.at), zone), days) }] : [];
  });
}
