import type { RenewalRisk } from '@kettle/contract';
import { riskOf, uplifted, type RiskFactor } from '@kettle/core/agreements';
import { addDays } from '@kettle/core/time';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { upliftOf } from './read-chain';

/** A customer with this tag has a complaint that nobody has settled yet. */
export const complaintTag = 'complaint';
const yearsLooked = 2;
const usualCheckInDays = 30;

interface FactRow {
  id: IdBytes;
  term_n: number;
  value_minor: string | number;
  uplift_kind: 'none' | 'percent' | 'amount';
  uplift_by: string | number;
  quiet_days: string | null;
  check_in_days: number | null;
  unanswered: string;
  complaints: string;
  has_decider: number;
  was_less: number;
  is_private: number;
}

/** Terms of the last two years that were decided, and those of them that were lost. */
export async function readDecided(db: Queryable, today: string): Promise<{ decided: number; lost: number }> {
  const [row] = await db.rows<{ renewed: string; lost: string }>(
    `SELECT (SELECT COUNT(*) FROM agreement_term WHERE n > 0 AND starts_on BETWEEN :from AND :today) AS renewed,
            (SELECT COUNT(*) FROM agreement WHERE leaves_on BETWEEN :from AND :today) AS lost`,
    { from: addDays(today, -365 * yearsLooked), today },
  );
  const lost = Number(row!.lost);
  return { decided: Number(row!.renewed) + lost, lost };
}

/** The chance that each customer leaves at the end of the term, by the id of the agreement, with what it is made of. */
export async function readRisks(
  db: Queryable,
  ids: readonly string[],
  today: string,
): Promise<ReadonlyMap<string, RenewalRisk>> {
  if (ids.length === 0) return new Map();
  return readRisksOf(db, 'a.id IN (:ids)', { ids: ids.map((id) => bytesOf(id)) }, today);
}

/** The same of every agreement that meets a condition on `agreement a`. */
export async function readRisksOf(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
  today: string,
): Promise<ReadonlyMap<string, RenewalRisk>> {
  const past = await readDecided(db, today);
  const rows = await db.rows<FactRow>(
    `SELECT a.id, a.term_n, a.value_minor, a.uplift_kind, a.uplift_by, DATEDIFF(:today, c.last_conversation_at) AS quiet_days,
            COALESCE(c.check_in_days, st.check_in_days) AS check_in_days, a.company_id IS NULL AS is_private,
            IF(c.waiting_since IS NULL, 0, (SELECT COUNT(*) FROM mail m WHERE m.contact_id = c.id AND m.direction = 'in' AND m.at >= c.waiting_since)) AS unanswered,
            (SELECT COUNT(*) FROM contact_tag t WHERE t.contact_id = c.id AND t.tag = :complaint) AS complaints,
            EXISTS (SELECT 1 FROM deal_person p JOIN deal d ON d.id = p.deal_id
                     WHERE p.role = 'decides' AND (d.contact_id = a.contact_id OR d.company_id = a.company_id)) AS has_decider,
            EXISTS (SELECT 1 FROM agreement_value v JOIN agreement_value w ON w.agreement_id = v.agreement_id
                     WHERE v.agreement_id = a.id AND w.from_on > v.from_on AND w.from_on <= :today
                       AND w.yearly_minor > 0 AND w.yearly_minor < v.yearly_minor) AS was_less
       FROM agreement a LEFT JOIN contact c ON c.id = a.contact_id LEFT JOIN standing st ON st.id = c.standing_id
      WHERE ${where}`,
    { ...parameters, today, complaint: complaintTag },
  );
  return new Map(
    rows.map((row) => {
      const id = idOf<string>(row.id);
      const value = Number(row.value_minor);
      const next = uplifted(value, upliftOf(row.uplift_kind, Number(row.uplift_by)));
      const isDecided = row.is_private === 1 || row.has_decider === 1;
      const quietDays = row.quiet_days === null ? null : Number(row.quiet_days);
      const checkInDays = row.check_in_days ?? usualCheckInDays;
      const facts = {
        ...{ ...past, quietDays, checkInDays, termsBefore: row.term_n },
        ...{ unanswered: Number(row.unanswered), complaints: Number(row.complaints) },
        ...{ hasDecider: isDecided, contractedBefore: row.was_less === 1 },
        upliftPercent: value === 0 ? 0 : (100 * (next - value)) / value,
      };
      const risk = riskOf(facts);
      const words = wordsOf(facts);
      return [
        id,
        {
          ...{ ...past, chance: risk.chance, base: risk.base },
          factors: risk.factors.map(({ factor, times }) => ({ words: words[factor], times })),
        },
      ];
    }),
  );
}

interface Facts {
  readonly quietDays: number | null;
  readonly checkInDays: number;
  readonly unanswered: number;
  readonly complaints: number;
  readonly termsBefore: number;
  readonly upliftPercent: number;
}

const wordsOf = (facts: Facts): Readonly<Record<RiskFactor, string>> => ({
  quiet: $localize`last spoke ${daysWords(facts.quietDays ?? 0)}:days: ago, check-in every ${facts.checkInDays}:every:`,
  'never-talked': $localize`nobody has talked with them yet`,
  unanswered:
    facts.unanswered === 1
      ? $localize`a letter of theirs is unanswered`
      : $localize`${facts.unanswered}:unanswered: letters of theirs are unanswered`,
  complaints: $localize`tagged as a complaint`,
  'first-term': $localize`their first term`,
  loyal: $localize`renewed ${facts.termsBefore}:terms: times`,
  dearer: $localize`${Math.round(facts.upliftPercent)}:percent: % dearer the next term`,
  'no-decider': $localize`who decides is not known`,
  'less-before': $localize`took less once before`,
});

const daysWords = (days: number) => (days === 1 ? $localize`1 day` : $localize`${days}:days: days`);
