import type { PatienceList, StageId } from '@kettle/contract';
import { suggestPatience, type StageStay } from '@kettle/core/deals';
import type { Queryable } from '../../platform/database/database';
import { idOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

/**
 * The patience that history suggests for each stage. Stays of won deals have ended; those of open deals have, or are still
 * going on. Lost and parked deals say nothing about how long it takes to go on, and are left out.
 */
export async function readPatience(db: Queryable, today: string): Promise<PatienceList> {
  const rows = await db.rows<Row<'stage_stay', 'stage_id'> & { days: number; went_on: number }>(
    `SELECT y.stage_id, DATEDIFF(COALESCE(y.left_at, :today), y.entered_at) AS days, y.left_at IS NOT NULL AS went_on
       FROM stage_stay y JOIN deal d ON d.id = y.deal_id JOIN stage s ON s.id = y.stage_id
      WHERE d.status IN ('won', 'open') AND s.retired_at IS NULL ORDER BY y.stage_id, y.deal_id, y.number`,
    { today },
  );
  const stays = new Map<StageId, StageStay[]>();
  for (const row of rows) {
    const id = idOf<StageId>(row.stage_id);
    stays.set(id, [...(stays.get(id) ?? []), { days: Math.max(0, row.days), wentOn: row.went_on === 1 }]);
  }
  return {
    stages: [...stays].map(([stageId, found]) => {
      const { days: suggestedDays, wentOn, stillThere } = suggestPatience(found);
      return { stageId, suggestedDays, wentOn, stillThere, meanDays: meanOf(found) };
    }),
  };
}

function meanOf(stays: readonly StageStay[]): number | null {
  const ended = stays.filter((stay) => stay.wentOn);
  return ended.length === 0 ? null : ended.reduce((sum, stay) => sum + stay.days, 0) / ended.length;
}
