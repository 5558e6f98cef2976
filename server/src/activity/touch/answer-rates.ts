import type { Channel, StandingGroup } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import type { RateTally } from '@kettle/core/touch';
import { localDatesOf, localMoment, minutesBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Row } from '../../platform/database/schema.generated';

const yearsLearnedFrom = 2;
const yearMillis = 365 * 86_400_000;

/** Tries of an hour in one zone: as many rows as there are hours with work in them, however much was done. */
interface HourRow {
  channel: Channel;
  standing_group: StandingGroup;
  zone: string;
  at: string;
  tried: string;
  answered: string;
}

/** Counts again, from the journal of the last two years, how often tries were answered by the hour on the clock of whoever was tried. */
export async function learnAnswerRates(tx: Queryable, now: string): Promise<void> {
  const from = sqlInstant(new Date(Date.parse(now) - yearsLearnedFrom * yearMillis).toISOString());
  const rows = await tx.rows<HourRow>(
    `SELECT e.kind AS channel, s.standing_group, c.zone, DATE_FORMAT(e.at, '%Y-%m-%d %H:30:00.000') AS at, COUNT(*) AS tried,
            SUM(e.counts = 'conversation') AS answered
       FROM journal_entry e JOIN contact c ON c.id = e.contact_id JOIN standing s ON s.id = c.standing_id
      WHERE e.kind IN (:channels) AND e.counts <> 'none' AND (e.direction IS NULL OR e.direction = 'out')
        AND e.removed_at IS NULL AND e.at >= :from
      GROUP BY e.kind, s.standing_group, c.zone, DATE_FORMAT(e.at, '%Y-%m-%d %H:30:00.000')`,
    { channels: channelNames, from },
  );
  const tallies = new Map<
    string,
    { channel: Channel; group: StandingGroup; hour: number; tried: number; answered: number }
  >();
  for (const row of rows) {
    const at = instantOf(row.at);
    const hour = hourOf(at, row.zone);
    const key = `${row.channel} ${row.standing_group} ${hour}`;
    const { channel, standing_group: group } = row;
    const known = tallies.get(key) ?? { channel, group, hour, tried: 0, answered: 0 };
    known.tried += wholeNumber(row.tried);
    known.answered += wholeNumber(row.answered);
    tallies.set(key, known);
  }
  await tx.change('DELETE FROM answer_rate');
  if (tallies.size > 0)
    await tx.change('INSERT INTO answer_rate (channel, standing_group, hour, tried, answered) VALUES :rows', {
      rows: [...tallies.values()].map(({ channel, group, hour, tried, answered }) => [
        channel,
        group,
        hour,
        tried,
        answered,
      ]),
    });
}

/** The hour a wall clock shows: counted from the zone's midnight, which is looked up once a day. */
function hourOf(at: string, zone: string): number {
  const midnight = localMoment(localDatesOf(zone)(at), 0, zone);
  return Math.min(23, Math.floor(minutesBetween(midnight, at) / 60));
}

/** How often tries were answered, as it was counted last night. */
export async function readAnswerRates(db: Queryable): Promise<RateTally[]> {
  const rows = await db.rows<
    Row<'answer_rate', 'channel' | 'standing_group' | 'hour' | 'tried' | 'answered'>
  >(
    'SELECT channel, standing_group, hour, tried, answered FROM answer_rate ORDER BY channel, standing_group, hour',
  );
  return rows.map(({ channel, standing_group: group, hour, tried, answered }) => ({
    channel: channel as Channel,
    group: group as StandingGroup,
    hour,
    tried,
    answered,
  }));
}
