import { localDate } from '@kettle/core/time';
import type { Database, SqlValue } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { dealRowsSelect } from '../src/processes/deals/deal-rows';
import { dealsList, listDeals } from '../src/processes/deals/list-deals';
import { listRoutes } from '../src/records/grid/index';
import { readPipelines } from '../src/records/pipelines/read-pipelines';
import { readSignedIn } from '../src/records/users/session';
import { addUser } from '../src/records/users/users';
import { bytesOf, idOf, newId, type IdBytes } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { compare, print } from './measure';
import { writingAt } from '../src/platform/work/work';

const dealCount = 50_000;
const openCount = 5_000;
const rowsAtOnce = 2000;
const dayMillis = 86_400_000;
const times = 9;

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly now: string;
}

/** Lanes with 5,000 open deals, and the list with 50,000, against the bare queries that read the same. */
export async function benchDeals({ database, services, now }: Bench): Promise<void> {
  const ownerId = await dealer({ database, services, now });
  const who = await readSignedIn(database, idOf(ownerId), new Date().toISOString());
  const today = localDate(now, who.zone);
  const list = listRoutes(services, dealsList);
  const base = { owner: 'mine', show: 'all', q: '' } as const;
  const lanes = await compare(
    times,
    () => listDeals(services, who, base),
    () =>
      database.rows(
        `${dealRowsSelect} WHERE d.status = 'open' AND d.owner_id = :me
          ORDER BY s.position, d.next_step_on IS NULL DESC, d.next_step_on, d.expected_close_on, d.id`,
        { me: ownerId },
      ),
  );
  print({
    name: 'lanes with 5,000 open deals against the bare query',
    value: lanes.ours,
    unit: 'ms',
    baseline: lanes.bare,
    ratio: lanes.ours / lanes.bare,
    aim: 2,
  });
  const all = { ...base, owner: 'all', status: 'any' } as const;
  const pages = [
    [
      'the first page by value',
      { ...all, sort: '-value', after: 0 },
      'ORDER BY d.home_minor DESC, d.id DESC LIMIT 100',
    ],
    [
      'a page in the middle of the lost, latest first',
      { ...all, status: 'lost' as const, sort: '-closed', after: 15_000 },
      "WHERE d.status = 'lost' AND d.archived_at IS NULL ORDER BY d.closed_on DESC, d.id DESC LIMIT 100 OFFSET 15000",
    ],
  ] as const;
  for (const [words, query, bare] of pages) {
    const [field, order] = query.sort.startsWith('-')
      ? [query.sort.slice(1), 'down' as const]
      : [query.sort, 'up' as const];
    const found = await compare(
      times,
      () => list.page({ query: { ...query, sort: [{ field, order }], limit: 100 }, who }),
      async () => {
        const ids = await database.rows<{ id: IdBytes }>(`SELECT d.id FROM deal d ${bare}`);
        await database.rows(`${dealRowsSelect} WHERE d.id IN (:ids)`, { ids: ids.map(({ id }) => id) });
      },
    );
    print({
      name: `list of 50,000 deals, ${words}, against the bare queries for its ids and rows`,
      value: found.ours,
      unit: 'ms',
      baseline: found.bare,
      ratio: found.ours / found.bare,
      aim: 2,
    });
  }
  const sums = await compare(
    times,
    () => list.count({ query: all, who }),
    () =>
      database.rows(
        `SELECT COUNT(*), SUM(d.amount_minor), SUM(ROUND(d.amount_minor * COALESCE(d.win_probability, s.win_probability)))
           FROM deal d JOIN stage s ON s.id = d.stage_id WHERE :today IS NOT NULL`,
        { today },
      ),
  );
  print({
    name: 'totals of 50,000 deals against the bare sums',
    value: sums.ours,
    unit: 'ms',
    baseline: sums.bare,
    ratio: sums.ours / sums.bare,
    aim: 2,
  });
}

/** Whose deals they are; loaded once and kept for later runs. */
export async function dealer({ database, services, now }: Bench): Promise<Buffer> {
  const email = 'dealer@hollinbeck.example';
  const [known] = await database.rows<{ id: IdBytes }>('SELECT id FROM app_user WHERE email = :email', {
    email,
  });
  if (known) return known.id;
  process.stderr.write('Loading 50,000 deals …\n');
  const person = {
    role: 'rep',
    password: 'a long enough password',
    zone: 'Europe/London',
    country: 'GB',
  } as const;
  const id = await addUser(writingAt(database, now), { ...person, name: 'Dealer', email });
  await load(database, services, bytesOf(id), Date.parse(now));
  return bytesOf(id);
}

async function load(
  database: Database,
  { settings }: Services,
  owner: Buffer,
  nowMillis: number,
): Promise<void> {
  const { stages } = (await readPipelines(database))[0]!;
  const { organisation } = await settings.read(database);
  const contacts = await database.rows<{ id: IdBytes; company_id: IdBytes }>(
    'SELECT id, company_id FROM contact ORDER BY id LIMIT 20000',
  );
  const at = (daysAgo: number) => sqlInstant(new Date(nowMillis - daysAgo * dayMillis).toISOString());
  const day = (inDays: number) => new Date(nowMillis + inDays * dayMillis).toISOString().slice(0, 10);
  const rowOf = (n: number): SqlValue[] => {
    const contact = contacts[(n * 7919) % contacts.length]!;
    const isOpen = n < openCount;
    const status = isOpen ? 'open' : n % 3 === 0 ? 'won' : 'lost';
    return [
      bytesOf(newId()),
      `Deal ${n}`,
      status,
      contact.company_id,
      contact.id,
      bytesOf(stages[n % stages.length]!.id),
      owner,
      100 * ((n * 6151) % 90_000),
      100 * ((n * 6151) % 90_000),
      organisation.currency,
      day(((n * 31) % 300) - 20),
      at(n % 40),
      at(n % 40),
      isOpen && n % 4 !== 0 ? day((n % 30) - 5) : null,
      isOpen ? null : day(-(n % 700)),
      at(60 + (n % 600)),
    ];
  };
  for (let from = 0; from < dealCount; from += rowsAtOnce)
    await database.change(
      `INSERT INTO deal (id, name, status, company_id, contact_id, stage_id, owner_id, amount_minor, home_minor, currency,
          expected_close_on, stage_since, changed_at, next_step_on, closed_on, created_at) VALUES :rows`,
      { rows: Array.from({ length: Math.min(rowsAtOnce, dealCount - from) }, (_, n) => rowOf(from + n)) },
    );
}
