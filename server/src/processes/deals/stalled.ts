import type { Instant } from '@kettle/contract';
import { stalledBefore } from '@kettle/core/deals';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';

/** A deal of an owner in this zone, in a stage of this patience, is stalled when it last moved before. */
export interface StalledLimit {
  readonly zone: string;
  readonly patienceDays: number;
  readonly before: Instant;
}

/** Since when deals must have moved not to be stalled now: as many as there are zones of owners and patiences of stages. */
export async function readStalledLimits(db: Queryable, now: Instant): Promise<StalledLimit[]> {
  const rows = await db.rows<{ zone: string; patience_days: number }>(
    'SELECT DISTINCT u.zone, s.patience_days FROM app_user u JOIN stage s ORDER BY u.zone, s.patience_days',
  );
  return rows.map(({ zone, patience_days: patienceDays }) => ({
    zone,
    patienceDays,
    before: stalledBefore({ patienceDays, ownerZone: zone }, now),
  }));
}

/** The condition on `deal d` that it is stalled by its owner's day. */
export function stalledSql(limits: readonly StalledLimit[], parameters: Record<string, SqlValue>): string {
  if (limits.length === 0) return 'FALSE';
  const cases = limits.map(({ zone, patienceDays, before }, n) => {
    parameters[`stalledZone${n}`] = zone;
    parameters[`stalledPatience${n}`] = patienceDays;
    parameters[`stalledBefore${n}`] = sqlInstant(before);
    return `WHEN so.zone = :stalledZone${n} AND ss.patience_days = :stalledPatience${n} THEN :stalledBefore${n}`;
  });
  return `d.moved_at < (SELECT CASE ${cases.join(' ')} END FROM app_user so JOIN stage ss WHERE so.id = d.owner_id AND ss.id = d.stage_id)`;
}
