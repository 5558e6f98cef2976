import type { Queryable } from '../../platform/database/database';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';

/** Where a word of the kind stands, by the kind of record. */
const columns = {
  source: [
    ['contact', 'contact'],
    ['deal', 'deal'],
    ['lead', 'sales_lead'],
  ],
  campaign: [['lead', 'sales_lead']],
} as const;

const most = 200;

/** Sources or campaigns of the records somebody may read, the most used first, each once however it is written. */
export async function readWordsInUse(
  db: Queryable,
  who: SignedIn,
  field: keyof typeof columns,
): Promise<string[]> {
  const parts = columns[field].map(
    ([kind, table]) =>
      `SELECT r.${field} AS word, COUNT(*) AS uses FROM ${table} r
        WHERE r.${field} IS NOT NULL AND r.${field} <> '' AND ${withinReach(who, kind, 'r')} GROUP BY r.${field}`,
  );
  const rows = await db.rows<{ word: string }>(
    `SELECT MIN(word) AS word FROM (${parts.join(' UNION ALL ')}) w GROUP BY LOWER(word)
      ORDER BY SUM(uses) DESC, 1 LIMIT ${most}`,
    reachParameters(who),
  );
  return rows.map(({ word }) => word);
}
