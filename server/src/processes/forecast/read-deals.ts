import type { DealId, PipelineId, PlainDate, UserId } from '@kettle/contract';
import { chanceInTime } from '@kettle/core/forecast';
import { daysBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';

/** First and last day. */
export interface Period {
  readonly from: PlainDate;
  readonly until: PlainDate;
}

/** An open deal as a forecast sees it. */
export interface OpenDeal {
  readonly id: DealId;
  readonly ownerId: UserId;
  /** In the organisation's currency; null where the deal's has no rate. */
  readonly minor: number | null;
  /** That it is won at all. */
  readonly winChance: number;
  readonly expectedCloseOn: PlainDate | null;
}

const bytesOfAll = (ids: readonly UserId[]) => ids.map((id) => bytesOf(id));

/** Open deals of some people: of thousands only what a forecast is computed from. Relies on deal_owner. */
export async function readOpenDeals(
  db: Queryable,
  ids: readonly UserId[],
  pipelineId: PipelineId | null,
): Promise<OpenDeal[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<
    Row<'deal', 'id' | 'owner_id' | 'home_minor' | 'expected_close_on'> & { chance: string }
  >(
    `SELECT d.id, d.owner_id, d.home_minor, d.expected_close_on, COALESCE(d.win_probability, s.win_probability) AS chance
       FROM deal d JOIN stage s ON s.id = d.stage_id
      WHERE d.status = 'open' AND d.archived_at IS NULL AND d.owner_id IN (:ids) AND (:pipeline IS NULL OR s.pipeline_id = :pipeline)
      ORDER BY d.id`,
    { ids: bytesOfAll(ids), pipeline: bytesOf(pipelineId) },
  );
  return rows.map((row) => ({
    ...{ id: idOf<DealId>(row.id), ownerId: idOf<UserId>(row.owner_id) },
    minor: row.home_minor === null ? null : wholeNumber(row.home_minor),
    ...{ winChance: Number(row.chance), expectedCloseOn: row.expected_close_on },
  }));
}

/** What a deal is called, whose it is and where it stands. */
export interface DealNames {
  readonly name: string;
  readonly ownerName: string;
  readonly stageName: string;
}

/** The names of deals, by id. */
export async function readDealNames(
  db: Queryable,
  ids: readonly DealId[],
): Promise<ReadonlyMap<DealId, DealNames>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<Row<'deal', 'id' | 'name'> & { owner_name: string; stage_name: string }>(
    `SELECT d.id, d.name, u.name AS owner_name, s.name AS stage_name
       FROM deal d JOIN stage s ON s.id = d.stage_id LEFT JOIN app_user u ON u.id = d.owner_id WHERE d.id IN (:ids) ORDER BY d.id`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
  return new Map(
    rows.map((row) => [
      idOf<DealId>(row.id),
      { name: row.name, ownerName: row.owner_name, stageName: row.stage_name },
    ]),
  );
}

export interface WonSum {
  readonly won: number;
  readonly minor: number;
  /** Of those in a currency without a rate. */
  readonly unconverted: number;
}

/** What was won in a period, by owner. */
export async function readWon(
  db: Queryable,
  ids: readonly UserId[],
  { from, until }: Period,
  pipelineId: PipelineId | null = null,
): Promise<ReadonlyMap<UserId, WonSum>> {
  if (ids.length === 0 || until < from) return new Map();
  const rows = await db.rows<
    Row<'deal', 'owner_id'> & { won: string; minor: string | null; unconverted: string }
  >(
    `SELECT d.owner_id, COUNT(*) AS won, SUM(d.home_minor) AS minor, SUM(d.home_minor IS NULL) AS unconverted FROM deal d
      WHERE d.status = 'won' AND d.closed_on BETWEEN :from AND :until AND d.owner_id IN (:ids)
        AND (:pipeline IS NULL OR d.stage_id IN (SELECT s.id FROM stage s WHERE s.pipeline_id = :pipeline))
      GROUP BY d.owner_id ORDER BY d.owner_id`,
    { ids: bytesOfAll(ids), from, until, pipeline: bytesOf(pipelineId) },
  );
  return new Map(
    rows.map((row) => [
      idOf<UserId>(row.owner_id),
      {
        won: wholeNumber(row.won),
        minor: wholeNumber(row.minor ?? 0),
        unconverted: wholeNumber(row.unconverted),
      },
    ]),
  );
}

const learnedYears = 2;
const mostSlips = 2000;

/** How won deals kept the day that was expected, newest first: days late, negative for early ones. */
export async function readSlips(db: Queryable, today: PlainDate): Promise<number[]> {
  const rows = await db.rows<{ slip: number }>(
    `SELECT DATEDIFF(closed_on, expected_close_on) AS slip FROM deal
      WHERE status = 'won' AND closed_on > :today - INTERVAL ${learnedYears} YEAR AND expected_close_on IS NOT NULL
      ORDER BY closed_on DESC, id LIMIT ${mostSlips}`,
    { today },
  );
  return rows.map(({ slip }) => Number(slip));
}

/** The chance that a deal closes inside a period, if it is won; one without an expected day has none. */
export function inTimeOf(
  { expectedCloseOn }: Pick<OpenDeal, 'expectedCloseOn'>,
  { from, until }: Period,
  { slips, today }: { readonly slips: readonly number[]; readonly today: PlainDate },
): number {
  if (expectedCloseOn === null) return 0;
  return chanceInTime(slips, {
    expectedIn: daysBetween(today, expectedCloseOn),
    firstIn: daysBetween(today, from),
    lastIn: daysBetween(today, until),
  });
}
