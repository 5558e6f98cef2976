import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';

/** Demo accounts that can be signed in with although people of the organisation work here too; none while the demo is alone. */
export async function countDemoAccounts(db: Queryable): Promise<number> {
  const [row] = await db.rows<{ demo: string; others: string }>(
    `SELECT COALESCE(SUM(demo_words IS NOT NULL), 0) AS demo, COALESCE(SUM(demo_words IS NULL), 0) AS others
       FROM app_user WHERE deactivated_at IS NULL`,
  );
  return wholeNumber(row?.others ?? 0) > 0 ? wholeNumber(row?.demo ?? 0) : 0;
}
