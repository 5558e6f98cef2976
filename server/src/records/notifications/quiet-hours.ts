import type { Instant } from '@kettle/contract';
import { addDays, localDate, localMinute, localMoment } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';

export interface QuietHours {
  /** Minutes of the day; over midnight where it begins later than it ends. */
  readonly from: number;
  readonly to: number;
}

/** @example isQuietAt({ from: 1200, to: 420 }, 30) is true: half past midnight lies between eight in the evening and seven */
export const isQuietAt = ({ from, to }: QuietHours, minute: number): boolean =>
  from <= to ? minute >= from && minute < to : minute >= from || minute < to;

/** Somebody's quiet hours and zone; null for none. */
export async function readQuietHours(
  db: Queryable,
  userId: string,
): Promise<(QuietHours & { readonly zone: string }) | null> {
  const [row] = await db.rows<Row<'app_user', 'quiet_from_minute' | 'quiet_to_minute' | 'zone'>>(
    'SELECT quiet_from_minute, quiet_to_minute, zone FROM app_user WHERE id = :id',
    { id: bytesOf(userId) },
  );
  if (!row || row.quiet_from_minute === null || row.quiet_to_minute === null) return null;
  return { from: row.quiet_from_minute, to: row.quiet_to_minute, zone: row.zone };
}

/** The moment itself, or the end of the quiet hours that it lies in, by their owner's clock. */
export async function afterQuietHours(db: Queryable, userId: string, at: Instant): Promise<Instant> {
  const quiet = await readQuietHours(db, userId);
  if (quiet === null) return at;
  const minute = localMinute(at, quiet.zone);
  if (!isQuietAt(quiet, minute)) return at;
  const today = localDate(at, quiet.zone);
  return localMoment(minute < quiet.to ? today : addDays(today, 1), quiet.to, quiet.zone);
}
