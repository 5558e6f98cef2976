import type { Queryable } from '../../platform/database/database';
import { keepLearned, readLearned } from '../../records/settings/index';

/** What an amount that nobody knows counts as, in minor units of the organisation's currency; null while there is none to go by. */
export interface UsualAmounts {
  /** The median of open deals that have a value. */
  readonly dealMinor: number | null;
  /** The median of what running agreements bring a year. */
  readonly yearlyMinor: number | null;
}

/** The median of what open deals weigh is learned beside them: a tenth of it is what keeping a promise is worth. */
const medians = {
  'usual-deal': `SELECT home_minor AS amount FROM deal WHERE status = 'open' AND archived_at IS NULL AND home_minor > 0`,
  'usual-weighted': `SELECT ROUND(d.home_minor * COALESCE(d.win_probability, s.win_probability)) AS amount
      FROM deal d JOIN stage s ON s.id = d.stage_id WHERE d.status = 'open' AND d.archived_at IS NULL AND d.home_minor > 0`,
  'usual-yearly': `SELECT yearly_home_minor AS amount FROM agreement
      WHERE archived_at IS NULL AND state IN ('ahead', 'running') AND yearly_home_minor > 0`,
} as const;

/** Learns the medians anew, in one pass over open deals and running agreements each. */
export async function learnUsualAmounts(tx: Queryable, now: string): Promise<void> {
  for (const [name, rows] of Object.entries(medians)) {
    const [found] = await tx.rows<{ median: string; cases: string }>(
      `SELECT MEDIAN(amount) OVER () AS median, COUNT(*) OVER () AS cases FROM (${rows}) known LIMIT 1`,
      { now: now.slice(0, 10) },
    );
    await keepLearned(
      tx,
      name,
      found ? { value: Math.round(Number(found.median)), cases: Number(found.cases) } : null,
    );
  }
}

export async function readUsualAmounts(db: Queryable): Promise<UsualAmounts> {
  const learned = await readLearned(db);
  const of = (name: keyof typeof medians) => learned.get(name)?.value ?? null;
  return { dealMinor: of('usual-deal'), yearlyMinor: of('usual-yearly') };
}
