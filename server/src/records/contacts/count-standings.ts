import type { ContactQuery, StandingCount } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { FilterSetting } from '../grid/index';
import { standingColumns, standingOf, type StandingRow } from '../settings/index';
import { contactClauses } from './contact-filter';

/** Due and all for each standing, of the people of a view: a press on one shows as many. Relies on contact_standing_due. */
export async function countStandings(
  db: Queryable,
  query: Omit<ContactQuery, 'standing'>,
  setting: FilterSetting,
): Promise<StandingCount[]> {
  const { where, parameters } = contactClauses(query, setting);
  const rows = await db.rows<StandingRow & { due: string | null; all: string | null }>(
    `SELECT ${standingColumns}, counted.due, counted.\`all\`
       FROM standing s LEFT JOIN (
         SELECT c.standing_id, SUM(c.next_touch_due < :today) AS due, COUNT(*) AS \`all\`
           FROM contact c ${where} GROUP BY c.standing_id
       ) counted ON counted.standing_id = s.id
      ORDER BY s.position, s.id`,
    { ...parameters, today: setting.today },
  );
  return rows.map((row) => ({
    standing: standingOf(row),
    due: wholeNumber(row.due ?? 0),
    all: wholeNumber(row.all ?? 0),
  }));
}
