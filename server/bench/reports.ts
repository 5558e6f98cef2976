import type { AskReport, UserId } from '@kettle/contract';
import { channels } from '@kettle/contract';
import type { Database } from '../src/platform/database/database';
import type { Services } from '../src/platform/services';
import { readSignedIn } from '../src/records/users/session';
import { readReport } from '../src/screens/numbers/report';
import { dealer } from './deals';
import { compare, print } from './measure';

const times = 5;

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
  readonly now: string;
}

/** The bare queries take the period and the one before it, as every report does. */
const periods = [
  { from: '2026-10-01', to: '2026-11-24', start: '2026-10-01', end: '2026-11-25' },
  { from: '2026-07-01', to: '2026-08-24', start: '2026-07-01', end: '2026-08-25' },
];

/** Reports over 50,000 deals and 2,000,000 journal entries, against the bare queries that count the same. */
export async function benchReports(bench: Bench): Promise<void> {
  const { database, services, now } = bench;
  const dealerId = await dealer(bench);
  await addStays(database, now);
  const owner = await readSignedIn(database, bench.ownerId, now);
  const users = await database.rows<{ id: Buffer }>('SELECT id FROM app_user ORDER BY id');
  const everybody = { owners: users.map(({ id }) => id), channels, dealer: dealerId };
  const ask = (part: Partial<AskReport>) => () =>
    readReport(services, owner, { kind: 'lost', period: 'this-quarter', whose: 'all', ...part });
  const bare =
    (...sql: readonly string[]) =>
    () =>
      Promise.all(
        periods.flatMap((days) => sql.map((each) => database.rows(each, { ...everybody, ...days }))),
      );
  const measured = [
    [
      'won and lost by stage',
      ask({ kind: 'lost', by: 'stage' }),
      bare(
        `SELECT d.stage_id, SUM(d.status = 'lost'), SUM(IF(d.status = 'lost', d.home_minor, 0)), SUM(d.status = 'won'), SUM(IF(d.status = 'won', d.home_minor, 0))
           FROM deal d WHERE d.status IN ('won', 'lost') AND d.closed_on BETWEEN :from AND :to GROUP BY d.stage_id`,
        `SELECT d.stage_id, DATEDIFF(d.closed_on, d.created_at) AS days, COUNT(*)
           FROM deal d WHERE d.status IN ('won', 'lost') AND d.closed_on BETWEEN :from AND :to GROUP BY 1, 2`,
      ),
    ],
    [
      'how far deals moved',
      ask({ kind: 'movement' }),
      bare(
        `SELECT d.owner_id, a.stage_id, b.stage_id, d.status, COUNT(*)
           FROM (SELECT DISTINCT y.deal_id FROM stage_stay y WHERE y.entered_at < :end AND (y.left_at IS NULL OR y.left_at >= :start)) t
           JOIN deal d ON d.id = t.deal_id
           LEFT JOIN stage_stay a ON a.deal_id = d.id AND a.entered_at < :start AND (a.left_at IS NULL OR a.left_at >= :start)
           LEFT JOIN stage_stay b ON b.deal_id = d.id AND b.entered_at < :end AND (b.left_at IS NULL OR b.left_at >= :end)
          GROUP BY 1, 2, 3, 4`,
      ),
    ],
    [
      'who does how much',
      ask({ kind: 'activity' }),
      bare(
        `SELECT e.user_id, e.kind, e.counts = 'conversation', COUNT(*), SUM(e.minutes) FROM journal_entry e
          WHERE e.user_id IN (:owners) AND e.kind IN (:channels) AND e.at >= :start AND e.at < :end AND e.removed_at IS NULL GROUP BY 1, 2, 3`,
      ),
    ],
    [
      'what earns answers, by channel',
      ask({ kind: 'answers' }),
      bare(
        `SELECT t.kind, t.answered IS NOT NULL, TIMESTAMPDIFF(DAY, t.at, t.answered) AS days, COUNT(*) FROM (
           SELECT e.kind, e.at, (SELECT MIN(a.at) FROM journal_entry a WHERE a.contact_id = e.contact_id AND a.counts = 'conversation'
                    AND a.removed_at IS NULL AND a.at >= e.at AND a.at <= e.at + INTERVAL 30 DAY) AS answered
             FROM journal_entry e WHERE e.user_id IN (:owners) AND e.kind IN (:channels) AND e.at >= :start AND e.at < :end
              AND e.counts <> 'none' AND e.removed_at IS NULL) t GROUP BY 1, 2, 3`,
      ),
    ],
  ] as const;
  for (const [name, ours, theirs] of measured) {
    const found = await compare(times, ours, theirs);
    print({
      name: `reports: ${name}, 50,000 deals and 2,000,000 entries`,
      ...{ value: found.ours, unit: 'ms', baseline: found.bare, ratio: found.ours / found.bare, aim: 2 },
    });
  }
}

/** Three stays for each deal that has none: added, on, and where it is. */
async function addStays(database: Database, now: string): Promise<void> {
  const [row] = await database.rows<{ many: string }>('SELECT COUNT(*) AS many FROM stage_stay');
  if (Number(row!.many) > 100_000) return;
  const parameters = { now: now.slice(0, 19).replace('T', ' ') };
  for (const number of [1, 2, 3])
    await database.change(
      `INSERT IGNORE INTO stage_stay (deal_id, number, stage_id, entered_at, left_at)
       SELECT d.id, ${number}, d.stage_id, d.created_at + INTERVAL ${(number - 1) * 12} DAY,
              ${number < 3 ? `d.created_at + INTERVAL ${number * 12} DAY` : 'IF(d.closed_on IS NULL, NULL, GREATEST(d.closed_on, d.created_at + INTERVAL 30 DAY))'}
         FROM deal d WHERE d.created_at < :now`,
      parameters,
    );
}
