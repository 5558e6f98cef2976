import { addDays, addMonths } from '@kettle/core/time';
import { firstTerm, rolledTerms, valueSteps, type Chain } from '@kettle/core/agreements';
import type { UserId } from '@kettle/contract';
import type { Database } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { bytesOf, newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { work } from '../src/platform/work/work';
import { findDay } from '../src/processes/renewals/day';
import { readRenewalsAhead } from '../src/processes/renewals/read-renewals';
import { customerRetention } from '../src/processes/renewals/read-retention';
import { readSignedIn } from '../src/records/users/session';
import { compare, print } from './measure';

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
  readonly now: string;
}

export const agreementCount = 70_000;
const customers = 30_000;

/** The day's look, what is at stake and two years of retention over 70,000 agreements, against the bare statements behind them. */
export async function benchAgreements({ database, services, ownerId, now }: Bench): Promise<void> {
  const today = now.slice(0, 10);
  await loadAgreements(database, ownerId, today);
  const who = await readSignedIn(database, ownerId, now);
  if (findDay.effect !== 'database') throw new Error('the day is a job of the database');
  const look = findDay.run;
  const bareLook = async () => {
    const conditions = [
      'next_on <= :on ORDER BY next_on, id',
      "decision = 'open' AND lead_on <= :on AND led_n < term_n AND state IN ('running', 'over') ORDER BY lead_on, id",
      'check_in_on <= :on ORDER BY check_in_on, id',
    ];
    for (const condition of conditions)
      await database.rows(
        `SELECT id, term_n, lead_on, next_on, check_in_on FROM agreement WHERE archived_at IS NULL AND ${condition} LIMIT 2000`,
        { on: today },
      );
  };
  const day = await compare(15, () => work(services, null, (w) => look(w, {})), bareLook);
  print({
    name: 'agreements: a day’s look over 70,000, asked for again',
    ...{ value: day.ours, unit: 'ms', baseline: day.bare, ratio: day.ours / day.bare },
    note: 'ours also asks for a job for each that is due, which is there already',
  });
  const values = `SELECT COALESCE(a.company_id, a.contact_id, a.id) AS customer, v.agreement_id, v.from_on, v.yearly_minor
       FROM agreement_value v JOIN agreement a ON a.id = v.agreement_id ORDER BY customer, v.agreement_id, v.from_on`;
  const asked = { owners: null, from: addMonths(`${today.slice(0, 7)}-01`, -23), months: 24 } as const;
  const kept = await compare(
    5,
    () => customerRetention(services, who, asked),
    () => database.rows(values),
  );
  print({
    name: 'agreements: retention of 24 months over 70,000',
    ...{ value: kept.ours, unit: 'ms', baseline: kept.bare, ratio: kept.ours / kept.bare, aim: 2 },
    note: `${customers} customers; ours also months, cohorts and the bridge`,
  });
  const stake = `SELECT a.owner_id, a.decision, DATE_FORMAT(a.notice_deadline_on, '%Y-%m-01') AS month, COUNT(*), SUM(a.yearly_home_minor)
       FROM agreement a WHERE a.archived_at IS NULL GROUP BY 1, 2, 3`;
  const ahead = await compare(
    5,
    () => readRenewalsAhead(services, who, { owner: 'all' }),
    () => database.rows(stake),
  );
  print({
    name: 'agreements: what is at stake over 70,000',
    ...{ value: ahead.ours, unit: 'ms', baseline: ahead.bare, ratio: ahead.ours / ahead.bare },
    note: 'ours also counts by window and weighs the chance that each leaves',
  });
}

/** Chains of one to four years, spread evenly over the days and over the customers. */
export async function loadAgreements(database: Database, ownerId: UserId, today: string): Promise<void> {
  const at = sqlInstant(`${today}T00:00:00.000Z`);
  const firms = Array.from({ length: customers }, () => bytesOf(newId()));
  await insert(
    database,
    'company (id, name, name_key, country, zone, created_at)',
    firms.map((id, n) => [id, `Firm ${n}`, `firm ${n}`, 'GB', 'Europe/London', at]),
  );
  const agreements: unknown[][] = [];
  const terms: unknown[][] = [];
  const values: unknown[][] = [];
  for (let n = 0; n < agreementCount; n += 1) {
    const id = bytesOf(newId());
    const startsOn = addDays(today, -1 - ((n * 7919) % 1_400));
    const renewsItself = n % 4 !== 0;
    const first = firstTerm({ startsOn, termMonths: 12, valueMinor: 10_000 + (n % 900) * 100, renewsItself });
    const chain: Chain = {
      terms: [first],
      ...{ changes: [], renewsItself, noticeDays: 60, leadDays: 30, leavesOn: null },
      uplift: { kind: 'percent', hundredths: (n % 8) * 100 },
    };
    const all = [first, ...rolledTerms(chain, today)];
    const last = all.at(-1)!;
    const isOver = last.endsOn <= today;
    agreements.push([
      ...[id, `Service ${n}`, firms[n % customers], bytesOf(ownerId), startsOn, 12, last.valueMinor, 'GBP'],
      ...[last.valueMinor, 60, 30, renewsItself ? 1 : 0, last.endsOn, addDays(last.endsOn, -60)],
      ...[
        addDays(last.endsOn, -90),
        at,
        isOver ? 'over' : 'running',
        last.n,
        last.startsOn,
        last.yearlyMinor,
      ],
      ...[last.yearlyMinor, isOver ? null : last.endsOn, last.n],
    ]);
    for (const term of all)
      terms.push([
        ...[id, term.n, term.startsOn, term.endsOn, term.months, term.valueMinor, term.yearlyMinor],
        ...[term.how, at],
      ]);
    for (const step of valueSteps({ ...chain, terms: all })) values.push([id, step.from, step.yearlyMinor]);
  }
  await insert(
    database,
    `agreement (id, name, company_id, owner_id, starts_on, term_months, value_minor, currency, home_minor, notice_days, lead_days,
      renews_itself, ends_on, notice_deadline_on, lead_on, created_at, state, term_n, term_starts_on, yearly_minor, yearly_home_minor, next_on, led_n)`,
    agreements,
  );
  await insert(
    database,
    'agreement_term (agreement_id, n, starts_on, ends_on, months, value_minor, yearly_minor, how, created_at)',
    terms,
  );
  await insert(database, 'agreement_value (agreement_id, from_on, yearly_minor)', values);
}

async function insert(database: Database, into: string, rows: readonly unknown[][]): Promise<void> {
  for (let at = 0; at < rows.length; at += 2_000)
    await database.change(`INSERT INTO ${into} VALUES :rows`, { rows: rows.slice(at, at + 2_000) as never });
}
