import type { StandingCount } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { reachParameters, withinReach } from '../rights/index';
import { standingColumns, standingOf, type StandingRow } from '../settings/index';
import type { SignedIn } from '../users/index';

/** Whose contacts are counted. */
const whose = {
  mine: 'c.owner_id = :me',
  unowned: 'c.owner_id IS NULL',
  near: '(c.owner_id = :me OR c.owner_id IS NULL)',
  all: 'TRUE',
} as const;

/** Due and all for each standing, of mine and nobody's. Relies on contact_standing_due. */
export async function countStandings(
  db: Queryable,
  who: SignedIn,
  { today, owner }: { readonly today: string; readonly owner?: keyof typeof whose | undefined },
): Promise<StandingCount[]> {
  const rows = await db.rows<StandingRow & { due: string; all: string }>(
    `SELECT ${standingColumns}, COALESCE(SUM(c.next_touch_due < :today), 0) AS due, COUNT(c.id) AS \`all\`
       FROM standing s LEFT JOIN contact c ON c.standing_id = s.id AND c.archived_at IS NULL
         AND ${whose[owner ?? 'near']} AND ${withinReach(who, 'contact', 'c')}
      GROUP BY ${standingColumns} ORDER BY s.position, s.id`,
    { ...reachParameters(who), me: bytesOf(who.id), today },
  );
  return rows.map((row) => ({
    standing: standingOf(row),
    due: wholeNumber(row.due),
    all: wholeNumber(row.all),
  }));
}
