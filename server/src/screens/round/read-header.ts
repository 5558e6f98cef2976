import type { PlainDate, UserId } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { quotaIn } from '@kettle/core/quotas';
import { localMoment, startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { readSetMonths } from '../../records/quotas/index';
import { countDone } from './read-done';

interface HeaderReading {
  readonly ownerId: UserId;
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
  const [setFor, [sold]] = await Promise.all([
    readSetMonths(db, [ownerId]),
    db.rows<{ minor: string | null }>(
      "SELECT SUM(home_minor) AS minor FROM deal WHERE owner_id = :user AND status = 'won' AND closed_on >= :month",
      { user, month },
    ),
  ]);
  const targetMinor = quotaIn(setFor({ userId: ownerId, isTeam: false }), month);
  return {
    done: done.total,
    doneMinutes: done.minutes,
    meetingsHeld: {
      week: wholeNumber(held?.week ?? 0),
      month: wholeNumber(held?.month ?? 0),
      quarter: wholeNumber(held?.quarter ?? 0),
    },
    quota:
      targetMinor === null || targetMinor === 0
        ? null
        : { soldMinor: wholeNumber(sold?.minor ?? 0), targetMinor },
  };
}
