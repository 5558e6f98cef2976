import { leadWorth } from '@kettle/core/leads';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { keepLearned } from '../../records/settings/index';

/** Learns what a lead is expected to bring, once enough leads and deals are decided to know it. */
export async function learnLeadWorth(tx: Queryable): Promise<void> {
  const [counts] = await tx.rows<{ qualified: string; aside: string; won: string; lost: string }>(
    `SELECT (SELECT COUNT(*) FROM sales_lead WHERE status = 'qualified') AS qualified,
            (SELECT COUNT(*) FROM sales_lead WHERE status = 'set-aside') AS aside,
            (SELECT COUNT(*) FROM deal WHERE status = 'won') AS won,
            (SELECT COUNT(*) FROM deal WHERE status = 'lost') AS lost`,
  );
  const [median] = await tx.rows<{ median: string | null }>(
    "SELECT MEDIAN(home_minor) OVER () AS median FROM deal WHERE status = 'won' AND home_minor IS NOT NULL LIMIT 1",
  );
  const of = (count: string | undefined) => wholeNumber(count ?? 0);
  const history = {
    qualified: of(counts?.qualified),
    setAside: of(counts?.aside),
    won: of(counts?.won),
    lost: of(counts?.lost),
    medianWonMinor: Math.round(Number(median?.median ?? 0)),
  };
  const value = leadWorth(history);
  const cases = history.qualified + history.setAside;
  await keepLearned(tx, 'leadMinor', value === null ? null : { value, cases });
}
