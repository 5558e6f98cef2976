import path from 'node:path';
import type { AgreementId, ContactId, DealId, Outcome, UserId } from '@kettle/contract';
import { companyKey } from '@kettle/core/duplicates';
import { pointOfPostcode, postcodeAreas } from '@kettle/core/route';
import { firstTerm, termAfter } from '@kettle/core/agreements';
import { insertTerm, readChains, rollAgreements } from '@kettle/server/processes/agreements/index';
import {
  addDays,
  addMonths,
  addWorkingDays,
  daysBetween,
  localDate,
  localMoment,
  type WorkingCalendar,
} from '@kettle/core/time';
import { findOutcome } from '@kettle/core/touch';
import type { WithKeys } from '@kettle/server/platform/database/database';
import { writingAt } from '@kettle/server/platform/work/work';
import { migrate } from '@kettle/server/platform/database/migrate';
import { sqlInstant } from '@kettle/server/platform/database/values';
import { writeDefaults } from '@kettle/server/defaults';
import { readEnvironment } from '@kettle/server/platform/environment';
import { insertEntries } from '@kettle/server/records/entries/index';
import { readPipelines } from '@kettle/server/records/pipelines/index';
import { setupSteps } from '@kettle/contract';
import { readStandings, usualDaysOff } from '@kettle/server/records/settings/index';
import { insertContact } from '@kettle/server/records/contacts/index';
import { addUser, demoPassword } from '@kettle/server/records/users/index';
import { followTasks } from '@kettle/server/activity/calendar/index';
import { insertTasks } from '@kettle/server/activity/tasks/index';
import { bytesOf, newId } from '@kettle/server/platform/ids';
import { stoppedClock } from '@kettle/server/platform/clock';
import { makeServices } from '@kettle/server/make-services';
import type { Services } from '@kettle/server/platform/services';
import { writeLeadFields, writeParticulars } from './particulars';
import type { Made } from './made';
import { momentAgo, zone } from './moments';
import { makeScenario, type Scenario } from './scenario';
import * as words from './words';
import { writeArrivals, writeTexts } from './write-mail';
import { writeDealParts } from './write-deal-parts';
import { writeLeads } from './write-leads';
import { learnAnswerRates } from '@kettle/server/activity/touch/index';
import { learnAnswers, learnUsualAmounts } from '@kettle/server/processes/deals/index';
import { beginDue } from '@kettle/server/processes/renewals/index';
import { learnLeadWorth } from '@kettle/server/processes/leads/index';
import { learnChances, learnMinutes } from '@kettle/server/screens/round/index';
import { writeRuns } from './write-runs';
import { installCapture } from '@kettle/server/platform/work/capture';
import { type Work, work } from '@kettle/server/platform/work/work';

/** The demo's day begins here, so that it is alive at whatever hour it is started. */
const startMinute = 9 * 60 + 10;

/** Ten past nine of today, or of the next working day; later when something was logged later than that. */
async function demoStart({ database, clock, calendars }: Services): Promise<string> {
  const today = addWorkingDays(
    localDate(clock.now(), zone),
    0,
    calendars.of({ country: 'GB', zone }, usualDaysOff),
  );
  const morning = localMoment(today, startMinute, zone);
  const [last] = await database.rows<{ at: string | null }>(
    'SELECT MAX(created_at) AS at FROM journal_entry',
  );
  const lastAt = last?.at ? `${last.at.replace(' ', 'T')}Z` : morning;
  return lastAt > morning ? lastAt : morning;
}

async function seed(demo: Services): Promise<void> {
  const now = demo.clock.now();
  const today = localDate(now, zone);
  const scenario = makeScenario(today);
  await work(
    demo,
    null,
    async (w) => {
      // The demo's firm is set up: nobody is led through its first steps.
      await w.change("INSERT INTO setting (name, value) VALUES ('setup', :value)", {
        value: JSON.stringify({ skipped: setupSteps }),
      });
      await w.change("INSERT INTO setting (name, value) VALUES ('organisation', :value)", {
        value: JSON.stringify({ name: 'Hollinbeck Water' }),
      });
      const users = await writeUsers(w, now);
      const companies = await writeCompanies(w, scenario, users, now);
      const contacts = await writeContacts(w, scenario, { users, companies }, now);
      const deals = await writeDeals(w, scenario, { users, companies, contacts }, today);
      const made = { users, companies, contacts, deals };
      await writeDealParts(w, scenario, made, today);
      await writeEntries(w, scenario, made, today);
      await writeAgreements(w, scenario, made, today);
      await writeTasks(w, scenario, made, today, now);
      await writeTexts(w, users[0]!, now);
      await writeRuns(w, demo, scenario, made, today);
      await writeArrivals(w, users[0]!, now);
      await writeDays(w, demo, users, today);
      await writeParticulars(w, contacts, users, today, now);
      await settleDeals(w);
      await writeLeads(w, demo, scenario, made, today);
      await writeLeadFields(w);
      await writeStarts(w, made.users);
      await beginDue(w);
      await learn(w, demo, now);
    },
    { act: 'demo', isBulk: true },
  );
  // Nobody undoes the demo: what was captured of it is not kept.
  await demo.database.change('DELETE FROM change_row');
  await demo.database.change('DELETE FROM change_set');
}

/** What is learned each night, from the history that was just written. */
async function learn(w: Work, { calendars }: Services, now: string): Promise<void> {
  await learnAnswers(w, now);
  await learnAnswerRates(w, now);
  await learnUsualAmounts(w, now);
  await learnLeadWorth(w);
  await learnChances(w, now, calendars.of({ country: 'GB', zone }, usualDaysOff));
  await learnMinutes(w, now, (await w.settings()).round.minutes);
}

async function writeUsers(tx: WithKeys, now: string): Promise<UserId[]> {
  const ids: UserId[] = [];
  for (const { words: described, quotaMinor, ...user } of words.users) {
    const id = await addUser(writingAt(tx, now), { ...user, password: demoPassword, zone, country: 'GB' });
    await tx.change('UPDATE app_user SET demo_words = :described WHERE id = :id', {
      id: bytesOf(id),
      described,
    });
    if (quotaMinor !== null)
      await tx.change(
        "INSERT INTO quota (user_id, is_team, from_month, amount_minor) VALUES (:id, 0, '2026-01-01', :quotaMinor)",
        { id: bytesOf(id), quotaMinor },
      );
    ids.push(id);
  }
  return ids;
}

/** Street and postcode of the firms of the county; of those abroad nobody noted them. */
function addressOf(
  { city, country }: Scenario['companies'][number],
  index: number,
): [string | null, string | null] {
  const area = Object.entries(postcodeAreas).find(([, { town }]) => town === city)?.[0];
  if (country !== 'GB' || area === undefined) return [null, null];
  const letters = [index, index * 7].map((n) => String.fromCharCode(65 + (n % 26))).join('');
  return [
    `${1 + ((index * 13) % 90)} ${words.streets[index % words.streets.length]!}`,
    `${area} ${index % 9}${letters}`,
  ];
}

/** Where the days of the field reps begin, and the office. */
async function writeStarts(w: Work, users: readonly UserId[]): Promise<void> {
  const home = (user: number, postcode: string) => {
    const { latitude, longitude } = pointOfPostcode(postcode)!;
    return w.change(
      'UPDATE app_user SET start_words = :postcode, start_latitude = :latitude, start_longitude = :longitude WHERE id = :id',
      { id: bytesOf(users[user]!), postcode, latitude, longitude },
    );
  };
  await home(2, 'ZM5 2KD');
  await home(3, 'ZM4 6HB');
  const office = { words: 'ZM1 3BD', ...pointOfPostcode('ZM1 3BD')! };
  await w.change("INSERT INTO setting (name, value) VALUES ('roads', :value)", {
    value: JSON.stringify({ version: 1, office }),
  });
}

async function writeCompanies(
  tx: WithKeys,
  { companies }: Scenario,
  users: readonly UserId[],
  now: string,
): Promise<string[]> {
  const ids = companies.map(() => newId<string>());
  await tx.change(
    `INSERT INTO company (id, name, name_key, trade, street, postcode, city, country, zone, owner_id, created_at) VALUES :rows`,
    {
      rows: companies.map((company, index) => [
        bytesOf(ids[index]!),
        company.name,
        companyKey(company.name),
        company.trade,
        ...addressOf(company, index),
        company.city,
        company.country,
        company.zone,
        bytesOf(users[company.owner]),
        sqlInstant(now),
      ]),
    },
  );
  return ids;
}

async function writeContacts(
  tx: WithKeys,
  scenario: Scenario,
  made: Pick<Made, 'users' | 'companies'>,
  now: string,
): Promise<ContactId[]> {
  const standings = new Map((await readStandings(tx)).map((standing) => [standing.name, standing.id]));
  const ids: ContactId[] = [];
  const w = writingAt(tx, addMonthsAgo(now, 26));
  for (const contact of scenario.contacts) {
    const company = scenario.companies[contact.company]!;
    const id = newId<ContactId>();
    const { givenName, familyName, jobTitle, email, phone, source } = contact;
    await insertContact(w, {
      id,
      givenName,
      familyName,
      jobTitle,
      email,
      phone,
      source,
      companyId: made.companies[contact.company] as never,
      companyName: company.name,
      country: company.country,
      zone: company.zone,
      standingId: standings.get(contact.standing)!,
      ownerId: contact.owner === null ? null : made.users[contact.owner]!,
      about: '',
      checkInDays: null,
      importId: null,
    });
    ids.push(id);
  }
  return ids;
}

const addMonthsAgo = (now: string, months: number) =>
  new Date(Date.parse(now) - months * 30 * 86_400_000).toISOString();

async function writeDeals(
  tx: WithKeys,
  scenario: Scenario,
  made: Omit<Made, 'deals'>,
  today: string,
): Promise<DealId[]> {
  const stages = (await readPipelines(tx))[0]!.stages;
  const ids = scenario.deals.map(() => newId<DealId>());
  await tx.change(
    `INSERT INTO deal (id, name, status, company_id, contact_id, stage_id, notches, owner_id, amount_minor, currency,
        expected_close_on, stage_since, changed_at, closed_on, close_reason, created_at) VALUES :rows`,
    {
      rows: scenario.deals.map((deal, index) => {
        const contact = scenario.contacts[deal.contact]!;
        const moved = sqlInstant(momentAgo(today, deal.movedDaysAgo, 700));
        return [
          bytesOf(ids[index]),
          deal.name,
          deal.status,
          bytesOf(made.companies[contact.company]!),
          bytesOf(made.contacts[deal.contact]),
          bytesOf(stages[deal.stage]!.id),
          // The longer in a stage, the further in it: as a rep would have cut them.
          deal.status === 'open' ? Math.min(4, Math.floor((deal.movedDaysAgo + index) / 5) % 5) : 0,
          bytesOf(made.users[contact.owner ?? 0]),
          deal.amountMinor,
          'GBP',
          deal.closeOn,
          moved,
          moved,
          deal.status === 'open' ? null : deal.closeOn,
          deal.reason,
          sqlInstant(momentAgo(today, deal.madeDaysAgo, 660)),
        ];
      }),
    },
  );
  return ids;
}

async function writeEntries(tx: WithKeys, scenario: Scenario, made: Made, today: string): Promise<void> {
  const dealAt = dealsOverTime(scenario, made.deals, today);
  const entries = scenario.entries.map((entry) => {
    const contact = scenario.contacts[entry.contact]!;
    const outcome = findOutcome(entry.outcome) as Outcome;
    return {
      id: newId<string>(),
      at: momentAgo(today, entry.daysAgo, entry.minute),
      kind: outcome.kind,
      direction: outcome.direction,
      outcomeId: outcome.id,
      outcomeLabel: outcome.label,
      counts: outcome.counts,
      minutes: entry.minutes,
      body: entry.body,
      userId: made.users[contact.owner ?? 1]!,
      contactId: made.contacts[entry.contact]!,
      companyId: made.companies[contact.company]!,
      dealId: dealAt(entry.contact, entry.daysAgo),
      taskId: null,
      runId: null,
    };
  });
  for (let from = 0; from < entries.length; from += 1000) {
    const part = entries.slice(from, from + 1000);
    await insertEntries(writingAt(tx, part.at(-1)!.at), part);
  }
  await tx.change('UPDATE journal_entry SET created_at = at');
}

/** The deal that was open with a contact so many days ago; of several the one that was made last. */
function dealsOverTime(scenario: Scenario, deals: readonly DealId[], today: string) {
  const spans = scenario.deals.map((deal, index) => ({
    id: deals[index]!,
    contact: deal.contact,
    from: deal.madeDaysAgo,
    to: deal.status === 'open' ? 0 : daysBetween(deal.closeOn, today),
  }));
  const lastMadeFirst = spans.sort((a, b) => a.from - b.from);
  return (contact: number, daysAgo: number): DealId | null =>
    lastMadeFirst.find((span) => span.contact === contact && span.from >= daysAgo && span.to <= daysAgo)
      ?.id ?? null;
}

/** Each with its first term; what followed it rolls on to today, with what changed and who left. */
async function writeAgreements(w: Work, scenario: Scenario, made: Made, today: string): Promise<void> {
  const ids = scenario.agreements.map(() => newId<AgreementId>());
  for (const [at, agreement] of scenario.agreements.entries()) {
    const { termsBefore, lostFor, isLeaving, change, termMonths, renewsItself } = agreement;
    const contact = scenario.contacts[agreement.contact]!;
    const startsOn = addMonths(agreement.startsOn, -termMonths * termsBefore);
    const term = firstTerm({ startsOn, termMonths, valueMinor: agreement.valueMinor, renewsItself });
    const id = bytesOf(ids[at]!);
    await w.change(
      `INSERT INTO agreement (id, name, company_id, contact_id, owner_id, starts_on, term_months, value_minor, currency, notice_days,
          lead_days, renews_itself, uplift_kind, uplift_by, leaves_on, notice_on, ended_by, end_reason, ends_on, notice_deadline_on, lead_on,
          created_at)
       VALUES (:id, :name, :company, :contact, :owner, :startsOn, :termMonths, :value, 'GBP', :noticeDays,
          :leadDays, :renews, 'percent', :uplift, :leavesOn, :noticeOn, :endedBy, :reason, :endsOn, :endsOn, :endsOn, :at)`,
      {
        ...{ id, name: agreement.name, startsOn, termMonths, value: agreement.valueMinor },
        ...{ noticeDays: agreement.noticeDays, leadDays: agreement.leadDays, renews: renewsItself },
        ...{ uplift: Math.round(agreement.upliftPercent * 100), endsOn: term.endsOn },
        company: bytesOf(made.companies[contact.company]!),
        contact: bytesOf(made.contacts[agreement.contact]),
        owner: bytesOf(made.users[contact.owner ?? 0]),
        leavesOn:
          lostFor === null
            ? null
            : isLeaving
              ? addMonths(agreement.startsOn, termMonths)
              : agreement.startsOn,
        noticeOn:
          lostFor === null
            ? null
            : isLeaving
              ? addDays(today, -6)
              : addDays(agreement.startsOn, -agreement.noticeDays - 5),
        endedBy: lostFor === null ? null : 'customer',
        reason: lostFor,
        at: `${startsOn} 09:00:00`,
      },
    );
    await insertTerm(w, ids[at]!, term);
    await w.change(
      `INSERT INTO agreement_line (id, agreement_id, position, name, quantity, price_minor, discount_percent, billing)
       VALUES (:line, :id, 0, :name, 1, :value, 0, 'yearly')`,
      {
        line: bytesOf(newId<string>()),
        id,
        name: agreement.name,
        value: Math.round((agreement.valueMinor * 12) / termMonths),
      },
    );
    // One that does not renew itself was renewed by hand.
    for (let n = 1; n <= ((lostFor === null || isLeaving) && !renewsItself ? termsBefore : 0); n += 1) {
      const [chain] = await readChains(w, [ids[at]!]);
      await insertTerm(w, ids[at]!, termAfter(chain!));
    }
    if (change !== null && lostFor === null)
      await w.change(
        `INSERT INTO agreement_change (id, agreement_id, on_day, value_minor, user_id, created_at)
         VALUES (:change, :id, :on, :value, :user, :at)`,
        {
          ...{ change: bytesOf(newId<string>()), id, user: bytesOf(made.users[contact.owner ?? 0]) },
          on: addDays(today, -change.daysAgo),
          value: Math.round((agreement.valueMinor * (100 + change.percent)) / 100),
          at: `${addDays(today, -change.daysAgo)} 09:00:00`,
        },
      );
  }
  await rollAgreements(w, ids);
}

async function writeTasks(
  tx: WithKeys,
  scenario: Scenario,
  made: Made,
  today: string,
  now: string,
): Promise<void> {
  const tasks = scenario.tasks.map((task) => {
    const contact = scenario.contacts[task.contact]!;
    const dueOn = addDays(today, task.inDays);
    return {
      channel: task.channel,
      purpose: task.purpose,
      dueOn,
      promisedAt: task.promisedMinute === null ? null : localMoment(dueOn, task.promisedMinute, zone),
      minutes: task.minutes,
      ownerId: made.users[contact.owner ?? 0]!,
      contactId: made.contacts[task.contact]!,
      companyId: made.companies[contact.company]!,
      dealId: task.deal === null ? null : made.deals[task.deal]!,
      run: null,
    };
  });
  const writing = writingAt(tx, now);
  const ids = await insertTasks(writing, tasks);
  await followTasks(
    writing,
    ids.map((id) => bytesOf<string>(id)),
  );
  await tx.change(
    `UPDATE appointment a JOIN contact c ON c.id = a.contact_id JOIN company o ON o.id = c.company_id
        SET a.place = CONCAT_WS(', ', o.street, o.city), a.travel_minutes = 20, a.travel_after_minutes = 20 WHERE a.task_id IS NOT NULL`,
  );
  for (const [index, task] of scenario.tasks.entries())
    if (task.timesMoved > 0)
      await tx.change('UPDATE task SET times_moved = :moved WHERE id = :id', {
        id: bytesOf(ids[index]),
        moved: task.timesMoved,
      });
}

interface DemoMeeting {
  readonly title: string;
  readonly place: string | null;
  readonly from: number;
  readonly minutes: number;
  readonly travel: number;
}

const busyDay: readonly DemoMeeting[] = [
  { title: 'Stock call', place: null, from: 570, minutes: 25, travel: 0 },
  { title: 'Site survey', place: 'Dunmere Clinic', from: 660, minutes: 75, travel: 20 },
  { title: 'Training', place: 'new dosing meters', from: 840, minutes: 120, travel: 0 },
];
const usualDay: readonly DemoMeeting[] = [
  { title: 'Team call', place: null, from: 570, minutes: 30, travel: 0 },
];

/** Meetings of the next three weeks. */
async function writeDays(
  tx: WithKeys,
  { calendars }: Services,
  users: readonly UserId[],
  today: string,
): Promise<void> {
  const calendar: WorkingCalendar = calendars.of({ country: 'GB', zone }, usualDaysOff);
  const meetings: (string | number | Buffer | null)[][] = [];
  users.slice(0, 4).forEach((user, index) => {
    for (let n = 0; n < 15; n += 1) {
      const on = addWorkingDays(today, n, calendar);
      for (const meeting of index === 0 && n < 2 ? busyDay : usualDay)
        meetings.push([
          bytesOf(newId<string>()),
          bytesOf(user),
          meeting.title,
          meeting.place,
          sqlInstant(localMoment(on, meeting.from, zone)),
          sqlInstant(localMoment(on, meeting.from + meeting.minutes, zone)),
          meeting.travel,
          sqlInstant(localMoment(today, 0, zone)),
        ]);
    }
  });
  await tx.change(
    'INSERT INTO appointment (id, owner_id, title, place, starts_at, ends_at, travel_minutes, created_at) VALUES :rows',
    { rows: meetings },
  );
}

/** Closed deals were last touched when their journal says; open ones count as opened by their last change, so that loose ones are so since then. */
async function settleDeals(tx: WithKeys): Promise<void> {
  await tx.change(
    `UPDATE deal d
       JOIN (SELECT deal_id, MAX(at) AS at FROM journal_entry WHERE deal_id IS NOT NULL AND counts <> 'none' GROUP BY deal_id) l
         ON l.deal_id = d.id
        SET d.last_touch_at = l.at WHERE d.status <> 'open'`,
  );
  await tx.change("UPDATE deal SET opened_at = changed_at WHERE status = 'open'");
}

/** Brings the database up, seeds it when it is empty, and answers with the instant the demo's clock starts at. */
async function prepare(): Promise<string> {
  const environment = readEnvironment(process.env);
  const folder = environment.KETTLE_MIGRATIONS ?? path.join(import.meta.dirname, 'migrations');
  await migrate(environment.KETTLE_DATABASE_URL, folder);
  const services = makeServices(environment);
  try {
    const startAt = environment.KETTLE_NOW ?? (await demoStart(services));
    await installCapture(services.database);
    await writeDefaults({ ...services, clock: stoppedClock(startAt) });
    const isSeeded = await services.database.rows('SELECT 1 FROM app_user LIMIT 1');
    if (isSeeded.length === 0) await seed({ ...services, clock: stoppedClock(startAt) });
    return startAt;
  } finally {
    await services.database.close();
  }
}

try {
  // The start command reads this line and sets the clock by it.
  process.stdout.write(`demo clock ${await prepare()}\n`);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
}
