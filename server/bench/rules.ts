import { randomUUID } from 'node:crypto';
import type { EntryId, RuleBody, UserId } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import type { Database } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { bytesOf, newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { work } from '../src/platform/work/work';
import { logInside } from '../src/processes/logging/index';
import { addRule } from '../src/processes/rules/rules';
import { lookRule } from '../src/processes/rules/times';
import { readStandings } from '../src/records/settings/standings';
import { readSignedIn } from '../src/records/users/session';
import { agreementCount, loadAgreements } from './agreements';
import { insert } from './load';
import { compare, percentile, print } from './measure';

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
  readonly now: string;
}

const contactCount = 200_000;
const ruleCount = 50;
/** The rest go by the lead day of agreements. */
const ofContacts = 35;
const logs = 200;

/** What fifty house rules cost a log that none of them fits, and a day's look of fifty over 200,000 contacts and 70,000 agreements. */
export async function benchRules(bench: Bench): Promise<void> {
  const contacts = await load(bench);
  await benchLog(bench, contacts);
  await benchLook(bench);
}

async function benchLog(
  { database, services, ownerId, now }: Bench,
  contacts: readonly string[],
): Promise<void> {
  const who = await readSignedIn(database, ownerId, now);
  for (let n = 0; n < ruleCount; n += 1)
    await work(services, who, (w) =>
      addRule(w, {
        ...{ name: `Rule ${n}`, subject: 'contact', isOn: true, missed: 'catch-up', perDay: 200 },
        when: { kind: 'event', event: 'touch.logged', to: [] },
        if: { join: 'all', rules: [{ field: 'country', ask: 'is', value: 'NZ' }] },
        then: [{ kind: 'notify', to: ['owner'], words: 'look' }],
      }),
    );
  const log = (n: number) =>
    work(services, who, (w) =>
      logInside(w, {
        ...{ id: randomUUID() as EntryId, contactId: contacts[n]! as never, dealId: null, taskId: null },
        ...{ outcomeId: 'call-spoke', at: null, minutes: null, body: 'spoke', done: [], alsoContactIds: [] },
        next: { kind: 'none', reason: 'bench' },
      }),
    );
  const turn = (isOn: boolean) => database.change('UPDATE house_rule SET is_on = :on', { on: isOn ? 1 : 0 });
  const times: Record<'on' | 'off', number[]> = { on: [], off: [] };
  // In turn, so that both meet the same machine; the first ones warm both up.
  for (let n = 0; n < logs + 20; n += 1) {
    const which = n % 2 === 0 ? 'on' : 'off';
    await turn(which === 'on');
    const start = performance.now();
    await log(n);
    if (n >= 20) times[which].push(performance.now() - start);
  }
  const [on, off] = [percentile(times.on, 0.5), percentile(times.off, 0.5)];
  print({
    name: `rules: a log with ${ruleCount} that wait and do not fit, against none`,
    ...{ value: on, unit: 'ms', baseline: off, ratio: on / off, aim: 1.1 },
    note: `medians of ${logs / 2} logs each, in turn; whether a rule fits is asked afterwards`,
  });
  await database.change('UPDATE house_rule SET removed_at = NOW(3)');
}

async function benchLook({ database, services, ownerId, now }: Bench): Promise<void> {
  const who = await readSignedIn(database, ownerId, now);
  await loadAgreements(database, ownerId, now.slice(0, 10));
  const ids: string[] = [];
  const add = async (part: Pick<RuleBody, 'subject' | 'when' | 'if'>) =>
    ids.push(
      await work(services, who, (w) =>
        addRule(w, {
          ...{ name: `Rule ${ids.length}`, isOn: true, missed: 'catch-up', perDay: 200, ...part },
          then: [{ kind: 'notify', to: ['owner'], words: 'look' }],
        }),
      ),
    );
  for (let n = 0; n < ofContacts; n += 1)
    await add({
      ...{ subject: 'contact', when: { kind: 'silence', days: 20 + n } },
      if: { join: 'all', rules: [{ field: 'country', ask: 'is', value: 'IE' }] },
    });
  for (let n = 0; n < ruleCount - ofContacts; n += 1)
    await add({
      ...{ subject: 'agreement', when: { kind: 'date', date: 'lead', days: 3 * n - 30 } },
      if: { join: 'all', rules: [{ field: 'value', ask: 'more', value: 800 }] },
    });
  if (lookRule.effect !== 'database') throw new Error('the look is a job of the database');
  const look = lookRule.run;
  const today = now.slice(0, 10);
  const sweep = async () => {
    await database.change('UPDATE house_rule SET looked_on = :yesterday', { yesterday: addDays(today, -1) });
    for (const id of ids) await work(services, null, (w) => look(w, { id }));
  };
  const bare = async () => {
    for (let n = 0; n < ofContacts; n += 1)
      await database.rows(
        `SELECT c.id, c.display_name FROM contact c WHERE c.archived_at IS NULL AND c.country = 'IE'
            AND COALESCE(c.last_touch_at, c.created_at) >= :a AND COALESCE(c.last_touch_at, c.created_at) < :b ORDER BY c.last_touch_at DESC`,
        {
          a: sqlInstant(`${addDays(today, -20 - n)}T00:00:00.000Z`),
          b: sqlInstant(`${addDays(today, -19 - n)}T00:00:00.000Z`),
        },
      );
    for (let n = 0; n < ruleCount - ofContacts; n += 1)
      await database.rows(
        `SELECT a.id, a.name FROM agreement a WHERE a.archived_at IS NULL AND a.state <> 'ended' AND a.value_minor > 80000
            AND a.lead_on = :on ORDER BY a.lead_on DESC`,
        { on: addDays(today, 30 - 3 * n) },
      );
  };
  const day = await compare(3, sweep, bare);
  print({
    name: `rules: a day's look of ${ruleCount} over ${contactCount.toLocaleString('en')} contacts and ${agreementCount.toLocaleString('en')} agreements, against the bare queries`,
    ...{ value: day.ours, unit: 'ms', baseline: day.bare, ratio: day.ours / day.bare, aim: 2 },
    note: 'ours also asks for a job for each record that is due, which is there already',
  });
}

async function load({ database, ownerId, now }: Bench): Promise<string[]> {
  const [standing] = await readStandings(database);
  const ids = Array.from({ length: contactCount }, () => newId<string>());
  const day = now.slice(0, 10);
  await insert(
    database,
    'contact (id, given_name, family_name, sort_name, country, zone, standing_id, standing_set_at, owner_id, last_touch_at, last_touch_kind, last_touch_counts, search_text, created_at)',
    ids.length,
    (n) => [
      ...[bytesOf(ids[n]!), 'Maud', `Ellery${n}`, `ellery${n} maud`, n % 40 === 0 ? 'IE' : 'GB'],
      ...['Europe/London', bytesOf(standing!.id), sqlInstant(now), bytesOf(ownerId)],
      ...[sqlInstant(`${addDays(day, -(n % 300))}T08:00:00.000Z`), 'call', 'conversation', `maud ellery${n}`],
      sqlInstant('2025-01-01T00:00:00.000Z'),
    ],
  );
  return ids;
}
