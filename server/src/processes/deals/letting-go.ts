import type { Deal, LettingGo } from '@kettle/contract';
import { advise, chanceOfAnswer, tallyAnswers, answerCases } from '@kettle/core/deals';
import type { Share } from '@kettle/core/stats';
import { daysBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

/** The chance that a person's next try is answered within 30 days, after so many without an answer; null while nobody was tried so often. */
export async function readOdds(db: Queryable, tries: number): Promise<LettingGo['chance']> {
  const share = chanceOfAnswer(await readAnswerTallies(db), tries + 1);
  return share && oddsOf(share);
}

/** How often so many tries were answered within 30 days, as it was counted last night. */
export const readAnswerTallies = (db: Queryable) =>
  db.rows<Row<'answer_tally', 'tries' | 'cases' | 'answered'>>(
    'SELECT tries, cases, answered FROM answer_tally ORDER BY tries',
  );

const oddsOf = ({ rate, low, high, whole }: Share) => ({ rate, low, high, cases: whole });

/** Tries so far, days against the usual, and the chance that the next try is answered. */
export async function readLettingGo(db: Queryable, deal: Deal, today: string): Promise<LettingGo> {
  const [[tried], usualDays, tallies] = await Promise.all([
    db.rows<{ tries: string | null }>(
      'SELECT SUM(tries_since_conversation) AS tries FROM channel_fact WHERE contact_id = :id',
      { id: bytesOf(deal.contactId) },
    ),
    readUsualDays(db),
    readAnswerTallies(db),
  ]);
  const tries = Number(tried?.tries ?? 0);
  const openDays = daysBetween(deal.createdAt.slice(0, 10), today);
  const share = chanceOfAnswer(tallies, tries + 1);
  return {
    tries,
    openDays,
    usualDays,
    chance: share && oddsOf(share),
    advice: advise(share, { open: openDays, usual: usualDays }),
  };
}

const fewestWon = 10;

/** Median days from made to won, once a few were. Relies on deal_won. */
async function readUsualDays(db: Queryable): Promise<number | null> {
  const [row] = await db.rows<{ days: string; won: string }>(
    `SELECT MEDIAN(DATEDIFF(closed_on, created_at)) OVER () AS days, COUNT(*) OVER () AS won
       FROM deal WHERE status = 'won' LIMIT 1`,
  );
  return row === undefined || Number(row.won) < fewestWon ? null : Math.round(Number(row.days));
}

const yearsLearnedFrom = 2;

/** Counts again how often tries were answered, from the journal of the last two years; done each night. */
export async function learnAnswers(tx: Queryable, now: string): Promise<void> {
  const from = sqlInstant(new Date(Date.parse(now) - yearsLearnedFrom * 365 * 86_400_000).toISOString());
  const rows = await tx.rows<
    Row<'journal_entry', 'at'> & { contact_id: Buffer; counts: 'conversation' | 'attempt' }
  >(
    `SELECT contact_id, at, counts FROM journal_entry
      WHERE contact_id IS NOT NULL AND removed_at IS NULL AND counts <> 'none' AND at >= :from ORDER BY contact_id, at, id`,
    { from },
  );
  const people = new Map<string, { at: string; counts: 'conversation' | 'attempt' }[]>();
  for (const { contact_id, at, counts } of rows) {
    const key = contact_id.toString('hex');
    const entries = people.get(key) ?? [];
    if (entries.length === 0) people.set(key, entries);
    entries.push({ at: instantOf(at), counts });
  }
  const tallies = tallyAnswers([...people.values()].flatMap((entries) => answerCases(entries, now)));
  await tx.change('DELETE FROM answer_tally');
  if (tallies.length > 0)
    await tx.change('INSERT INTO answer_tally (tries, cases, answered) VALUES :rows', {
      rows: tallies.map(({ tries, cases, answered }) => [tries, cases, answered]),
    });
}
