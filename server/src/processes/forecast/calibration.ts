import type { Calibration, CalibrationStage, PipelineId, PlainDate, StageId } from '@kettle/contract';
import { calibrationOf } from '@kettle/core/forecast';
import { shareOf } from '@kettle/core/stats';
import { addMonths } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';

const lookedBack = 24;
/** With fewer closed deals nothing is proposed. */
const leastClosed = 20;

interface StageRow {
  readonly id: IdBytes<StageId>;
  readonly pipeline_id: IdBytes<PipelineId>;
  readonly name: string;
  readonly chance: string;
  readonly closed: string;
  readonly won: string | null;
}

/**
 * How the chances of stages stand against what came of the deals that passed through them and were closed in the last two years, everybody's:
 * a share needs many. Open deals are not counted yet, so that a stage where deals stay long looks a little better than it is.
 */
export async function readCalibration(
  db: Queryable,
  today: PlainDate,
  pipelineId: PipelineId | null,
): Promise<Calibration> {
  const since = addMonths(today, -lookedBack);
  const rows = await db.rows<StageRow>(
    `SELECT s.id, s.pipeline_id, s.name, s.win_probability AS chance, COUNT(d.id) AS closed, SUM(d.status = 'won') AS won
       FROM stage s JOIN pipeline p ON p.id = s.pipeline_id
       LEFT JOIN (SELECT DISTINCT stage_id, deal_id FROM stage_stay) y ON y.stage_id = s.id
       LEFT JOIN deal d ON d.id = y.deal_id AND d.status IN ('won', 'lost') AND d.closed_on >= :since
      WHERE s.retired_at IS NULL AND p.retired_at IS NULL AND (:pipeline IS NULL OR p.id = :pipeline)
      GROUP BY s.id, s.pipeline_id, s.name, s.win_probability, p.position, s.position ORDER BY p.position, p.id, s.position, s.id`,
    { since, pipeline: bytesOf(pipelineId) },
  );
  const stages = rows.map(stageOf);
  const found = calibrationOf(
    stages.map(({ chance, closed, won }) => ({ chance, count: closed, happened: won })),
  );
  return {
    ...{ since, stages, passages: stages.reduce((sum, { closed }) => sum + closed, 0) },
    score: found?.score ?? null,
    reliability: found?.reliability ?? null,
    resolution: found?.resolution ?? null,
    uncertainty: found?.uncertainty ?? null,
  };
}

function stageOf(row: StageRow): CalibrationStage {
  const [chance, closed, won] = [Number(row.chance), wholeNumber(row.closed), wholeNumber(row.won ?? 0)];
  const share = closed === 0 ? null : shareOf(won, closed);
  const isOff = share !== null && closed >= leastClosed && (chance < share.low || chance > share.high);
  return {
    ...{ stageId: idOf<StageId>(row.id), pipelineId: idOf<PipelineId>(row.pipeline_id), name: row.name },
    ...{ chance, closed, won, low: share?.low ?? null, high: share?.high ?? null },
    // In whole hundredths, as a stage has it.
    proposed: isOff ? Math.round(share.rate * 100) / 100 : null,
  };
}
