import type { UserId } from '@kettle/contract';
import { localMoment } from '@kettle/core/time';
import type { Database } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { bytesOf, newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { writingAt } from '../src/platform/work/work';
import { readCalendar } from '../src/activity/calendar/read-calendar';
import { readSignedIn } from '../src/records/users/session';
import { addUser } from '../src/records/users/users';
import { compare, print } from './measure';

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
  readonly now: string;
}

const colleagues = 40;
const months = 12;
const perMonth = 500;
const from = '2026-10-26';
const days = 42;

/** A month of one person with 500 entries, among a year of forty colleagues with as many, against the bare statement of the same columns. */
export async function benchCalendar({ database, services, ownerId, now }: Bench): Promise<void> {
  await load(database, ownerId, now);
  const who = await readSignedIn(database, ownerId, new Date().toISOString());
  const span = {
    from: sqlInstant(localMoment(from, 0, 'Europe/London')),
    to: sqlInstant(localMoment('2026-12-07', 0, 'Europe/London')),
  };
  const bare = () =>
    database.rows(
      `SELECT a.id, a.owner_id, a.title, a.starts_at, a.ends_at, a.travel_minutes, a.travel_after_minutes, a.place, a.channel, a.contact_id,
              c.display_name, c.company_name, a.deal_id, d.name, a.task_id, a.state, a.version
         FROM appointment a LEFT JOIN contact c ON c.id = a.contact_id LEFT JOIN deal d ON d.id = a.deal_id
        WHERE a.owner_id = :owner AND a.starts_at >= :from AND a.starts_at < :to AND a.state <> 'called-off' ORDER BY a.starts_at, a.id`,
      { owner: bytesOf(ownerId), ...span },
    );
  const ours = () => readCalendar(services, who, { from, days, who: 'mine' });
  const measured = await compare(25, ours, bare);
  const { entries } = await ours();
  print({
    name: 'calendar: six weeks of one person',
    value: measured.ours,
    unit: 'ms',
    baseline: measured.bare,
    ratio: measured.ours / measured.bare,
    aim: 2,
    note: `${entries.length} entries, among ${(colleagues + 1) * months * perMonth}; ours also promised calls, who else comes, whether it may be read, tasks and days off of each day`,
  });
}

/** Fills the year before and after evenly: of the six weeks shown, 500 a month. */
async function load(database: Database, ownerId: UserId, now: string): Promise<void> {
  const w = writingAt(database, now);
  const people = [ownerId];
  for (let n = 0; n < colleagues; n += 1)
    people.push(
      await addUser(w, {
        ...{
          name: `Colleague ${n}`,
          email: `c${n}@hollinbeck.example`,
          password: null,
          role: 'rep' as const,
        },
        ...{ zone: 'Europe/London', country: 'GB' },
      }),
    );
  const first = Date.parse('2026-06-01T08:00:00Z');
  const step = (months * 30 * 86_400_000) / (months * perMonth);
  for (const person of people) {
    const rows = Array.from({ length: months * perMonth }, (_, n) => {
      const starts = first + Math.floor(n * step);
      return [
        bytesOf(newId()),
        bytesOf(person),
        `Appointment ${n}`,
        sqlInstant(new Date(starts).toISOString()),
        sqlInstant(new Date(starts + 45 * 60_000).toISOString()),
        sqlInstant(now),
      ];
    });
    for (let at = 0; at < rows.length; at += 2000)
      await database.change(
        'INSERT INTO appointment (id, owner_id, title, starts_at, ends_at, created_at) VALUES :rows',
        { rows: rows.slice(at, at + 2000) },
      );
  }
}
