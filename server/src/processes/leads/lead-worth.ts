import { leadWorth } from '@kettle/core/leads';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { AllSettings } from '../../records/settings/index';

/** Writes what a lead is expected to bring, if that is to be learned and once enough leads and deals are decided to know it. */
export async function learnLeadWorth(tx: Queryable, round: AllSettings['round']): Promise<void> {
  if (!round.learnsLead) return;
  const [counts] = await tx.rows<{ qualified: string; aside: string; won: string; lost: string }>(
    `SELECT (SELECT COUNT(*) FROM sales_lead WHERE status = 'qualified') AS qualified,
            (SELECT COUNT(*) FROM sales_lead WHERE status = 'set-aside') AS aside,
            (SELECT COUNT(*) FROM deal WHERE status = 'won') AS won,
            (SELECT COUNT(*) FROM deal WHERE status = 'lost') AS lost`,
  );
  const [median] = await tx.rows<{ median: string | null }>(
    "SELECT MEDIAN(home_minor) OVER () AS median FROM deal WHERE status = 'won' AND home_minor IS NOT NULL LIMIT 1",
  );
  const leadMinor = leadWorth({
    qualified: wholeNumber(counts?.qualified ?? 0),
    setAside: wholeNumber(counts?.aside ?? 0),
    won: wholeNumber(counts?.won ?? 0),
    lost: wholeNumber(counts?.lost ?? 0),
    medianWonMinor: Math.round(Number(median?.median ?? 0)),
  });
  if (leadMinor === null || leadMinor === round.leadMinor) return;
  await tx.change(
    `INSERT INTO setting (name, value) VALUES ('round', :value)
     ON DUPLICATE KEY UPDATE value = :value, version = version + 1`,
    { value: JSON.stringify({ ...round, leadMinor }) },
  );
}
