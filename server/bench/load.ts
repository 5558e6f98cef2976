import type { Queryable, SqlValue } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { bytesOf, newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { companyKey } from '@kettle/core/duplicates';
import { readStandings } from '../src/records/settings/standings';
import { readPipelines } from '../src/records/pipelines/read-pipelines';

export const contactCount = 200_000;
export const entryCount = 2_000_000;
export const candidateCount = 5000;
export const companyCount = 30_000;
const trades =
  'Bakery Laundry Brewery Clinic Hotel Dairy Forge Mill Kiln Works Stores Garage Nursery Smithy Tannery Foundry Printers Bindery Cannery Creamery'.split(
    ' ',
  );
/** The name of a firm by its number: one trade in twenty each. */
export const firmOf = (n: number) => `${trades[n % trades.length]} ${n}`;

/** Words that entries are written with, so that one is in about one entry of five hundred. */
export const wordOf = (n: number) => `w${(n * 7919) % 2500}`;
const rowsAtOnce = 2000;
const dayMillis = 86_400_000;

const givenNames =
  'Maud Tomas Owen Fenn Greta Sorrel Rafe Ada Bram Cleo Edda Faye Gwil Hester Ivo Juno Kit Lorna Magnus Nora'.split(
    ' ',
  );
const familyNames =
  'Ellery Tarrant Holm Bright Condon Ashby Brindle Crake Dunnock Eastgarth Farrier Gorse Hallam Ironside Jessop Larch Nettle Plover Ridley Sallow'.split(
    ' ',
  );

/** A large installation, the same at every run: who, what and when follow from the row's number. */
export async function load(services: Services, ownerId: string, colleagueId: string): Promise<void> {
  const { database, clock } = services;
  const standing = (await readStandings(database)).find((each) => each.name === 'Customer')!;
  const stage = (await readPipelines(database))[0]!.stages[1]!;
  const now = clock.millis();
  const at = (daysAgo: number) => sqlInstant(new Date(now - daysAgo * dayMillis).toISOString());
  const day = (inDays: number) => new Date(now + inDays * dayMillis).toISOString().slice(0, 10);
  const ids = Array.from({ length: contactCount }, () => bytesOf(newId()));
  const companies = Array.from({ length: companyCount }, () => bytesOf(newId()));
  await insert(database, 'company (id, name, name_key, country, zone, created_at)', companyCount, (n) => [
    companies[n]!,
    `Firm ${n}`,
    companyKey(`Firm ${n}`),
    'GB',
    'Europe/London',
    at(500),
  ]);
  // The first contacts are the measured rep's and all have something waiting: tasks, quiet ones, deals.
  await insert(
    database,
    'contact (id, given_name, family_name, sort_name, company_id, company_name, email, phone, country, zone, standing_id, standing_set_at, owner_id, last_touch_at, last_touch_kind, last_touch_counts, next_touch_due, next_step_on, next_step_channel, search_text, created_at)',
    contactCount,
    (n) => {
      const [given, family] = [givenNames[n % 20]!, familyNames[Math.floor(n / 20) % 20]!];
      const isMine = n < candidateCount;
      const hasTask = isMine && n % 2 === 0;
      const firm = firmOf(n % companyCount);
      return [
        ids[n]!,
        given,
        `${family} ${n}`,
        `${family} ${n} ${given}`.toLowerCase(),
        companies[n % companyCount]!,
        firm,
        `p${n}@f${n % companyCount}.example`,
        `+44${1_000_000_000 + n}`,
        'GB',
        'Europe/London',
        bytesOf(standing.id),
        at(400),
        bytesOf(isMine ? ownerId : colleagueId),
        at(70 + (n % 50)),
        'call',
        'conversation',
        day(-1 - (n % 40)),
        hasTask ? day(-(n % 5)) : null,
        hasTask ? 'call' : null,
        `${given} ${family} ${n} ${firm} p${n} f${n % companyCount} example 44${1_000_000_000 + n}`.toLowerCase(),
        at(500),
      ];
    },
  );
  await insert(
    database,
    'deal (id, name, status, contact_id, stage_id, owner_id, amount_minor, currency, expected_close_on, stage_since, changed_at, loose_since, created_at)',
    candidateCount / 5,
    (n) => [
      bytesOf(newId()),
      `Deal ${n}`,
      'open',
      ids[n * 5]!,
      bytesOf(stage.id),
      bytesOf(ownerId),
      100_000 + n * 700,
      'GBP',
      day(n % 90),
      at(30),
      at(10 + (n % 30)),
      at(5),
      at(60),
    ],
  );
  await insert(
    database,
    'task (id, channel, purpose, due_on, minutes, owner_id, contact_id, created_at)',
    candidateCount / 2,
    (n) => [bytesOf(newId()), 'call', 'ask', day(-((n * 2) % 5)), 6, bytesOf(ownerId), ids[n * 2]!, at(9)],
  );
  // Words are indexed once all entries are there: two million one by one take ten times as long.
  await database.change('ALTER TABLE journal_entry DROP INDEX journal_search');
  await insert(
    database,
    'journal_entry (id, at, kind, direction, outcome_id, outcome_label, counts, body, user_id, contact_id, created_at)',
    entryCount,
    (n) => [
      bytesOf(newId()),
      at(70 + (n % 600)),
      n % 3 === 0 ? 'email' : 'call',
      'out',
      'call-spoke',
      'Spoke',
      n % 4 === 0 ? 'conversation' : 'attempt',
      `Asked about ${wordOf(n)} and ${wordOf(n + 17)}, ${wordOf(n * 3)} next time.`,
      bytesOf(colleagueId),
      ids[n % contactCount]!,
      at(70 + (n % 600)),
    ],
  );
  await database.change('ALTER TABLE journal_entry ADD FULLTEXT KEY journal_search (body)');
  await database.change('ANALYZE TABLE contact, task, deal, journal_entry');
}

export async function insert(
  db: Queryable,
  into: string,
  count: number,
  rowOf: (n: number) => SqlValue[],
): Promise<void> {
  for (let from = 0; from < count; from += rowsAtOnce) {
    const rows = Array.from({ length: Math.min(rowsAtOnce, count - from) }, (_, index) =>
      rowOf(from + index),
    );
    await db.change(`INSERT INTO ${into} VALUES :rows`, { rows });
  }
}
