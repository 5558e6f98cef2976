import type { Channel, StandingGroup } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import { type HourTally, hourOfWeek, type RateTally } from '@kettle/core/touch';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

const yearsLearnedFrom = 2;
const yearMillis = 365 * 86_400_000;

const tries = `e.kind IN (:channels) AND e.counts <> 'none' AND (e.direction IS NULL OR e.direction = 'out')
        AND e.removed_at IS NULL AND e.at >= :from`;
/** Any moment within the hour: zones are a half or a quarter of an hour off at most. */
const hourOfTry = "DATE_FORMAT(e.at, '%Y-%m-%d %H:30:00.000')";
const triesFrom = (now: string) => ({
  channels: channelNames,
  from: sqlInstant(new Date(Date.parse(now) - yearsLearnedFrom * yearMillis).toISOString()),
});

/** Tries of an hour in one zone: as many rows as there are hours with work in them, however much was done. */
interface HourRow {
  channel: Channel;
  zone: string;
  at: string;
  tried: string;
  answered: string;
}

/** The tries together by channel and hour of the week on the clock of whoever was tried, and by whatever else the key names. */
function byHourOfWeek<Of extends HourRow>(rows: readonly Of[], keyOf: (row: Of) => string = () => '') {
  const tallies = new Map<string, { row: Of; tally: HourTally & { tried: number; answered: number } }>();
  for (const row of rows) {
    const { weekday, hour } = hourOfWeek(instantOf(row.at), row.zone);
    const key = `${row.channel} ${weekday} ${hour} ${keyOf(row)}`;
    const known = tallies.get(key) ?? {
      row,
      tally: { channel: row.channel, weekday, hour, tried: 0, answered: 0 },
    };
    known.tally.tried += wholeNumber(row.tried);
    known.tally.answered += wholeNumber(row.answered);
    tallies.set(key, known);
  }
  return [...tallies.values()];
}

/** Counts again, from the journal of the last two years, how often tries were answered by the hour of the week on the clock of whoever was tried. */
export async function learnAnswerRates(tx: Queryable, now: string): Promise<void> {
  const rows = await tx.rows<HourRow & { standing_group: StandingGroup }>(
    `SELECT e.kind AS channel, s.standing_group, c.zone, ${hourOfTry} AS at, COUNT(*) AS tried,
            SUM(e.counts = 'conversation') AS answered
       FROM journal_entry e JOIN contact c ON c.id = e.contact_id JOIN standing s ON s.id = c.standing_id
      WHERE ${tries}
      GROUP BY e.kind, s.standing_group, c.zone, ${hourOfTry}`,
    triesFrom(now),
  );
  const tallies = byHourOfWeek(rows, (row) => row.standing_group);
  await tx.change('DELETE FROM answer_rate');
  if (tallies.length > 0)
    await tx.change(
      'INSERT INTO answer_rate (channel, standing_group, weekday, hour, tried, answered) VALUES :rows',
      {
        rows: tallies.map(({ row, tally }) => [
          tally.channel,
          row.standing_group,
          tally.weekday,
          tally.hour,
          tally.tried,
          tally.answered,
        ]),
      },
    );
}

/** Of one person, the newest tries; more say nothing new, and a journal may be long. */
const mostOwnTries = 500;

/** When one person was tried and answered, by hour of the week. */
export async function readOwnHours(db: Queryable, contactId: string, now: string): Promise<HourTally[]> {
  const rows = await db.rows<HourRow>(
    `SELECT e.kind AS channel, c.zone, ${hourOfTry} AS at, 1 AS tried, e.counts = 'conversation' AS answered
       FROM journal_entry e JOIN contact c ON c.id = e.contact_id
      WHERE e.contact_id = :contact AND ${tries}
      ORDER BY e.at DESC LIMIT ${mostOwnTries}`,
    { contact: bytesOf(contactId), ...triesFrom(now) },
  );
  return byHourOfWeek(rows).map(({ tally }) => tally);
}

/** How often tries were answered, as it was counted last night. */
export async function readAnswerRates(db: Queryable): Promise<RateTally[]> {
  const rows = await db.rows<
    Row<'answer_rate', 'channel' | 'standing_group' | 'weekday' | 'hour' | 'tried' | 'answered'>
  >(
    `SELECT channel, standing_group, weekday, hour, tried, answered FROM answer_rate
      ORDER BY channel, standing_group, weekday, hour`,
  );
  return rows.map(({ channel, standing_group: group, weekday, hour, tried, answered }) => ({
    channel: channel as Channel,
    group: group as StandingGroup,
    weekday,
    hour,
    tried,
    answered,
  }));
}
