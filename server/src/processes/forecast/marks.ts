import type { PipelineId, PlainDate, UserId } from '@kettle/contract';
import { addDays, daysBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import type { OpenDeal } from './read-deals';

export const markKind = 'mark-deals';
const weeksBack = 8;
/** Days of which only Mondays are kept. */
const everyDay = 40;

/**
 * Keeps what each deal that was open on a day was worth and how likely it was. Of a past day its stage is known, and the rest is as it is
 * now: that is how a first week has weeks before it.
 */
export async function markDay(db: Queryable, day: PlainDate): Promise<void> {
  await db.change(
    `INSERT IGNORE INTO deal_mark (on_day, deal_id, owner_id, pipeline_id, minor, win_chance, expected_close_on)
     SELECT :day, d.id, d.owner_id, s.pipeline_id, d.home_minor, COALESCE(d.win_probability, s.win_probability), d.expected_close_on
       FROM deal d JOIN stage_stay y ON y.deal_id = d.id AND y.entered_at < :end AND (y.left_at IS NULL OR y.left_at >= :end)
       JOIN stage s ON s.id = y.stage_id
      WHERE d.created_at < :end AND d.archived_at IS NULL AND d.status <> 'parked' AND (d.closed_on IS NULL OR d.closed_on > :day)`,
    { day, end: sqlInstant(`${addDays(day, 1)}T00:00:00.000Z`) },
  );
}

/** The Monday of a day's week. 1970-01-05 was one. */
const mondayOf = (day: PlainDate): PlainDate =>
  addDays(day, -(((daysBetween('1970-01-05', day) % 7) + 7) % 7));

/** Marks the day, and the Mondays before it that nothing was kept of. */
export const markDeals: JobKind = {
  words: $localize`keeping what deals are worth today`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w) => {
    const today = w.now.slice(0, 10);
    const known = new Set(
      (
        await w.rows<Row<'deal_mark', 'on_day'>>(
          'SELECT DISTINCT on_day FROM deal_mark WHERE on_day >= :from ORDER BY on_day',
          { from: addDays(today, -7 * (weeksBack + 1)) },
        )
      ).map((row) => row.on_day),
    );
    const monday = mondayOf(today);
    const days = Array.from({ length: weeksBack }, (_, at) => addDays(monday, -7 * at));
    for (const day of [...days, today]) if (!known.has(day)) await markDay(w, day);
  },
};

export const sweptMarks = [
  `DELETE FROM deal_mark WHERE on_day < :now - INTERVAL ${everyDay} DAY AND WEEKDAY(on_day) <> 0 LIMIT ${sweptAtOnce}`,
  `DELETE FROM deal_mark WHERE on_day < :now - INTERVAL 2 YEAR LIMIT ${sweptAtOnce}`,
];

/** Open deals of some people as they were on the Mondays of the last weeks, oldest first. Relies on deal_mark_owner. */
export async function readMarks(
  db: Queryable,
  ids: readonly UserId[],
  { today, pipelineId }: { readonly today: PlainDate; readonly pipelineId: PipelineId | null },
): Promise<ReadonlyMap<PlainDate, readonly Omit<OpenDeal, 'id'>[]>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<
    Row<'deal_mark', 'on_day' | 'owner_id' | 'minor' | 'win_chance' | 'expected_close_on'>
  >(
    `SELECT on_day, owner_id, minor, win_chance, expected_close_on FROM deal_mark
      WHERE owner_id IN (:ids) AND on_day >= :from AND on_day < :today AND WEEKDAY(on_day) = 0 AND (:pipeline IS NULL OR pipeline_id = :pipeline)
      ORDER BY on_day, deal_id`,
    {
      ids: ids.map((id) => bytesOf(id)),
      ...{ from: addDays(today, -7 * weeksBack), today, pipeline: bytesOf(pipelineId) },
    },
  );
  const byDay = new Map<PlainDate, Omit<OpenDeal, 'id'>[]>();
  for (const row of rows) {
    const deals = byDay.get(row.on_day) ?? [];
    deals.push({
      ownerId: idOf<UserId>(row.owner_id),
      minor: row.minor === null ? null : wholeNumber(row.minor),
      ...{ winChance: Number(row.win_chance), expectedCloseOn: row.expected_close_on },
    });
    byDay.set(row.on_day, deals);
  }
  return byDay;
}
