import type { PlainDate } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { localMoment, startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { countDone } from './read-done';

interface HeaderReading {
  readonly ownerId: string;
  readonly today: PlainDate;
  readonly zone: string;
}

/** Done today, meetings held this week, month and quarter, and where the month stands against its quota. */
export async function readHeader(db: Queryable, { ownerId, today, zone }: HeaderReading) {
  const user = bytesOf(ownerId);
  const startOf = (day: PlainDate) => sqlInstant(localMoment(day, 0, zone));
  const [week, month, quarter] = [startOfWeek(today), startOfMonth(today), startOfQuarter(today)];
  const done = await countDone(db, { ownerId, from: today, to: today, zone });
  const [held] = await db.rows<Record<'week' | 'month' | 'quarter', string | null>>(
    `SELECT SUM(at >= :week) AS week, SUM(at >= :month) AS month, SUM(at >= :quarter) AS quarter
       FROM journal_entry
      WHERE user_id = :user AND kind IN (:met) AND counts = 'conversation' AND removed_at IS NULL
        AND at >= :earliest`,
    {
      user,
      met: channelsThat(({ isMet }) => isMet === true),
      week: startOf(week),
      month: startOf(month),
      quarter: startOf(quarter),
      earliest: startOf(week < quarter ? week : quarter),
    },
  );
  const [quota] = await db.rows<{ target: string | null; sold: string | null }>(
    `SELECT u.monthly_quota_minor AS target,
            (SELECT SUM(d.home_minor) FROM deal d
              WHERE d.owner_id = u.id AND d.status = 'won' AND d.closed_on >= :month) AS sold
       FROM app_user u WHERE u.id = :user`,
    { user, month },
  );
  return {
    done: done.total,
    doneMinutes: done.minutes,
    meetingsHeld: {
      week: wholeNumber(held?.week ?? 0),
      month: wholeNumber(held?.month ?? 0),
      quarter: wholeNumber(held?.quarter ?? 0),
    },
    quota: quota?.target
      ? { soldMinor: wholeNumber(quota.sold), targetMinor: wholeNumber(quota.target) }
      : null,
  };
}
