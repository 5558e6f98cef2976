import type { UserId } from '@kettle/contract';
import { chainOn, rolledTerms, valueSteps, type ChainTerm } from '@kettle/core/agreements';
import { localDate, type WorkingCalendar } from '@kettle/core/time';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Deriver, Work } from '../../platform/work/work';
import { readPerson } from '../../records/users/index';
import { readChains, type StoredChain } from './read-chain';

export interface OwnersDay {
  readonly today: string;
  /** Without their absences: a notice can come in while they are away. */
  readonly calendar: WorkingCalendar;
}

/** What day it is for whoever owns an agreement, and which days are working days there. */
export async function ownersDay(w: Work, ownerId: UserId): Promise<OwnersDay> {
  const { organisation } = await w.settings();
  const person = await readPerson(w, ownerId);
  return {
    today: localDate(w.now, person.zone),
    calendar: w.services.calendars.of({ ...person, absences: [] }, organisation),
  };
}

/** The same for several agreements: each owner is read once. */
function daysOfOwners(w: Work): (ownerId: UserId) => Promise<OwnersDay> {
  const known = new Map<UserId, Promise<OwnersDay>>();
  return (ownerId) => {
    const found = known.get(ownerId) ?? ownersDay(w, ownerId);
    known.set(ownerId, found);
    return found;
  };
}

/** Terms that began by themselves meanwhile are added, then each agreement's row says what holds today. */
export async function rollAgreements(w: Work, ids: readonly string[]): Promise<void> {
  const dayOf = daysOfOwners(w);
  for (const chain of await readChains(w, ids))
    for (const term of rolledTerms(chain, (await dayOf(chain.ownerId)).today))
      await insertTerm(w, chain.id, term);
  await placeAgreements(w, ids, dayOf);
}

export async function insertTerm(
  w: Work,
  agreementId: string,
  term: ChainTerm,
  dealId: string | null = null,
): Promise<void> {
  await w.change(
    `INSERT INTO agreement_term (agreement_id, n, starts_on, ends_on, months, value_minor, yearly_minor, how, deal_id, created_at)
     VALUES (:agreement, :n, :startsOn, :endsOn, :months, :value, :yearly, :how, :deal, :now)`,
    {
      ...{ agreement: bytesOf(agreementId), n: term.n, startsOn: term.startsOn, endsOn: term.endsOn },
      ...{ months: term.months, value: term.valueMinor, yearly: term.yearlyMinor, how: term.how },
      ...{ deal: bytesOf(dealId), now: sqlInstant(w.now) },
    },
  );
}

/** What each agreement's chain of terms is today, into its row; and what it brings in a year over time. */
async function placeAgreements(
  w: Work,
  ids: readonly string[],
  dayOf: (ownerId: UserId) => Promise<OwnersDay> = daysOfOwners(w),
): Promise<void> {
  for (const chain of await readChains(w, ids)) {
    const { today, calendar } = await dayOf(chain.ownerId);
    const day = chainOn(chain, today, calendar);
    await w.change(
      `UPDATE agreement SET state = :state, decision = :decision, term_n = :n, term_starts_on = :startsOn, ends_on = :endsOn,
              term_months = COALESCE(:months, term_months), value_minor = :value, yearly_minor = :yearly,
              notice_deadline_on = :noticeDeadlineOn, lead_on = :leadOn, next_on = :nextOn
        WHERE id = :id`,
      {
        ...{ id: bytesOf(chain.id), state: day.state, decision: day.decision, n: day.term.n },
        ...{ startsOn: day.term.startsOn, endsOn: day.term.endsOn, months: day.term.months },
        ...{ value: day.valueMinor, yearly: day.yearlyMinor, nextOn: day.nextOn },
        ...{ noticeDeadlineOn: day.noticeDeadlineOn, leadOn: day.leadOn },
      },
    );
    await writeSteps(w, chain);
    w.note('agreement', chain.id);
  }
}

async function writeSteps(w: Work, chain: StoredChain): Promise<void> {
  const agreement = bytesOf(chain.id);
  await w.change('DELETE FROM agreement_value WHERE agreement_id = :agreement', { agreement });
  const steps = valueSteps(chain);
  if (steps.length > 0)
    await w.change('INSERT INTO agreement_value (agreement_id, from_on, yearly_minor) VALUES :rows', {
      rows: steps.map(({ from, yearlyMinor }) => [agreement, from, yearlyMinor]),
    });
}

/** What the row of an agreement says follows from its terms, whoever wrote them: a change, a closing, an undo. */
export const deriveAgreements: Deriver = async (w, written) => {
  const ids = new Set([
    ...written.ids('agreement', 'id', [
      ...['starts_on', 'renews_itself', 'notice_days', 'lead_days', 'uplift_kind', 'uplift_by'],
      ...['leaves_on', 'owner_id', 'value_minor', 'term_months'],
    ]),
    ...written.ids('agreement_term', 'agreement_id'),
    ...written.ids('agreement_change', 'agreement_id'),
  ]);
  if (ids.size > 0) await placeAgreements(w, [...ids]);
};
