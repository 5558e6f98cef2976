import type { Channel, UserId } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import { minutesTaken, minutesTakenWith } from '@kettle/core/round';
import { addDays } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, type IdBytes } from '../../platform/ids';

const learnedFromDays = 365;
/** So often something was timed with a person before it says anything of them. */
const fewestWith = 3;
const withAnybody = Buffer.alloc(16);
const rowsAtOnce = 500;

/** Minutes that an act of a channel takes somebody, with a person or with anybody. */
export type MinutesOf = (channel: Channel, contactId: string | null) => number;

interface TimedRow {
  user_id: IdBytes<UserId>;
  kind: Channel;
  contact_id: IdBytes | null;
  count: string;
  sum: string;
}

/**
 * Learns from the lengths of a year's journal how long acts take: for each colleague and channel, and with whom it takes them another time.
 * @param usual minutes the organisation reckons with
 */
export async function learnMinutes(
  db: Queryable,
  now: string,
  usual: Readonly<Record<Channel, number>>,
): Promise<void> {
  const rows = await db.rows<TimedRow>(
    `SELECT user_id, kind, contact_id, COUNT(*) AS count, SUM(minutes) AS sum FROM journal_entry
      WHERE at >= :from AND minutes BETWEEN 1 AND 480 AND kind IN (:channels) AND user_id IS NOT NULL AND removed_at IS NULL
      GROUP BY user_id, kind, contact_id ORDER BY user_id, kind, contact_id`,
    { from: `${addDays(now.slice(0, 10), -learnedFromDays)} 00:00:00`, channels: channelNames },
  );
  const timed = rows.map(({ count, sum, ...row }) => ({ ...row, count: Number(count), sum: Number(sum) }));
  const groups = new Map<string, typeof timed>();
  for (const row of timed) {
    const key = `${row.user_id.toString('hex')} ${row.kind}`;
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  const learned = [...groups.values()].flatMap((group) => {
    const { user_id: user, kind: channel } = group[0]!;
    const all = { count: total(group, 'count'), sum: total(group, 'sum') };
    const minutes = minutesTaken(all, usual[channel]);
    const own = group.flatMap((row) => {
      const takes = minutesTakenWith(row, minutes);
      const isOther = row.contact_id !== null && row.count >= fewestWith && takes !== minutes;
      return isOther ? [{ contact: row.contact_id, minutes: takes, cases: row.count }] : [];
    });
    return [{ contact: null, minutes, cases: all.count }, ...own].map((each) => ({ user, channel, ...each }));
  });
  await db.change('DELETE FROM learned_minutes');
  for (let at = 0; at < learned.length; at += rowsAtOnce)
    await db.change(
      'INSERT INTO learned_minutes (user_id, channel, contact_key, contact_id, minutes, cases) VALUES :rows',
      {
        rows: learned
          .slice(at, at + rowsAtOnce)
          .map((row) => [
            row.user,
            row.channel,
            row.contact ?? withAnybody,
            row.contact,
            row.minutes,
            row.cases,
          ]),
      },
    );
}

const total = (rows: readonly { count: number; sum: number }[], name: 'count' | 'sum') =>
  rows.reduce((all, row) => all + row[name], 0);

/** What somebody's acts take them; where nothing was learned, what is usual. */
export async function readMinutes(
  db: Queryable,
  userId: string,
  usual: Readonly<Record<Channel, number>>,
): Promise<MinutesOf> {
  const rows = await db.rows<Row<'learned_minutes', 'channel' | 'contact_id' | 'minutes'>>(
    'SELECT channel, contact_id, minutes FROM learned_minutes WHERE user_id = :user ORDER BY channel, contact_key',
    { user: bytesOf(userId) },
  );
  const any = new Map<Channel, number>();
  const own = new Map<string, number>();
  for (const { channel, contact_id: contact, minutes } of rows) {
    if (contact === null) any.set(channel, minutes);
    else own.set(`${channel} ${contact.toString('hex')}`, minutes);
  }
  return (channel, contactId) => {
    const known = contactId === null ? undefined : own.get(`${channel} ${contactId.replaceAll('-', '')}`);
    return known ?? any.get(channel) ?? usual[channel];
  };
}
