import type { DealId, PlainDate, UserId } from '@kettle/contract';
import { addDays, addMonths, startOfMonth } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';

export interface OpenDeal {
  readonly id: DealId;
  readonly name: string;
  readonly ownerId: UserId;
  /** In the organisation's currency; null where the deal's has no rate. */
  readonly minor: number | null;
  readonly chance: number;
}

export interface WonSum {
  readonly won: number;
  readonly minor: number;
  /** Of those in a currency without a rate. */
  readonly unconverted: number;
}

const bytesOfAll = (ids: readonly UserId[]) => ids.map((id) => bytesOf(id));
const lastDay = (month: PlainDate) => addDays(addMonths(month, 1), -1);

/** What was won in a month, by owner. */
export async function readWon(
  db: Queryable,
  ids: readonly UserId[],
  month: PlainDate,
): Promise<ReadonlyMap<UserId, WonSum>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<
    Row<'deal', 'owner_id'> & { won: string; minor: string | null; unconverted: string }
  >(
    `SELECT owner_id, COUNT(*) AS won, SUM(home_minor) AS minor, SUM(home_minor IS NULL) AS unconverted FROM deal
      WHERE status = 'won' AND closed_on BETWEEN :from AND :to AND owner_id IN (:ids)
      GROUP BY owner_id ORDER BY owner_id`,
    { ids: bytesOfAll(ids), from: month, to: lastDay(month) },
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

/** Open deals that are to close in a month; in the running one also those that should have closed before. None of a month that is over. */
export async function readDue(
  db: Queryable,
  ids: readonly UserId[],
  { month, today }: { readonly month: PlainDate; readonly today: PlainDate },
): Promise<OpenDeal[]> {
  const now = startOfMonth(today);
  if (ids.length === 0 || month < now) return [];
  const rows = await db.rows<
    Row<'deal', 'id' | 'name' | 'owner_id' | 'home_minor'> & {
      chance: NonNullable<Tables['deal']['win_probability']>;
    }
  >(
    `SELECT d.id, d.name, d.owner_id, d.home_minor, COALESCE(d.win_probability, s.win_probability) AS chance
       FROM deal d JOIN stage s ON s.id = d.stage_id
      WHERE d.status = 'open' AND d.archived_at IS NULL AND d.owner_id IN (:ids)
        AND d.expected_close_on <= :to ${month > now ? 'AND d.expected_close_on >= :from' : ''}
      ORDER BY d.id`,
    { ids: bytesOfAll(ids), from: month, to: lastDay(month) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    ownerId: idOf(row.owner_id),
    minor: row.home_minor === null ? null : wholeNumber(row.home_minor),
    chance: Number(row.chance),
  }));
}
