import type { CloseDeal, Deal, RenewedTerm } from '@kettle/contract';
import { correctedTerms, termAfter } from '@kettle/core/agreements';
import { sayMoney } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { readAgreements } from './agreement-rows';
import { endOfLost, takeEndBack, writeEnd } from './end-agreement';
import { insertTerm, ownersDay } from './place-agreements';
import { readChains, type StoredChain, type StoredTerm } from './read-chain';

interface Renewal {
  readonly chain: StoredChain;
  /** The term that the deal is about what follows. */
  readonly term: StoredTerm;
}

/** The agreements that a deal is about the renewal of, with the term each comes from. */
async function readRenewals(db: Queryable, dealId: string): Promise<Renewal[]> {
  const rows = await db.rows<Row<'agreement_term', 'agreement_id' | 'n'>>(
    'SELECT agreement_id, n FROM agreement_term WHERE renewal_deal_id = :deal ORDER BY agreement_id, n',
    { deal: bytesOf(dealId) },
  );
  const chains = await readChains(
    db,
    rows.map((row) => idOf<string>(row.agreement_id)),
  );
  return rows.flatMap(({ agreement_id: key, n }) => {
    const chain = chains.find(({ id }) => id === idOf<string>(key));
    const term = chain?.terms.find((each) => each.n === n);
    return chain === undefined || term === undefined ? [] : [{ chain, term }];
  });
}

/** What would follow a term, as things are. */
const nextOf = ({ chain, term }: Renewal) =>
  chain.terms.find(({ n }) => n === term.n + 1) ??
  termAfter({ ...chain, terms: chain.terms.filter(({ n }) => n <= term.n) });

/** The agreements that a deal is about, each with what its next term would be. */
export async function readRenewed(db: Queryable, dealId: string): Promise<Deal['renews']> {
  const renewals = await readRenewals(db, dealId);
  const rows = await readAgreements(
    db,
    renewals.map(({ chain }) => bytesOf(chain.id)),
  );
  return renewals.flatMap((renewal) => {
    const row = rows.find(({ id }) => id === renewal.chain.id);
    if (row === undefined) return [];
    const { id: agreementId, name, state, currency, termMonths, valueMinor } = row;
    const nextMinor = nextOf(renewal).valueMinor;
    return {
      agreementId,
      name,
      state,
      endsOn: renewal.term.endsOn,
      termMonths,
      valueMinor,
      currency,
      nextMinor,
    };
  });
}

/**
 * A renewal is won: each of its agreements has its next term, from the day the last one ends. Where one rolled on by itself meanwhile, the term
 * it rolled to becomes the one agreed on.
 * @throws Problem `invalid-request` at `renewed` for an agreement that the deal is not about, or a day that is none
 */
export async function renewAgreements(
  w: PersonWork,
  deal: Pick<Deal, 'id' | 'amountMinor' | 'currency'>,
  asked: readonly RenewedTerm[] | undefined,
): Promise<void> {
  const renewals = await readRenewals(w, deal.id);
  for (const each of asked ?? [])
    if (!renewals.some(({ chain }) => chain.id === each.agreementId))
      throw refuse($localize`names an agreement that the deal is not about`);
  const shares = sharesOf(
    deal.amountMinor,
    renewals.map((renewal) => nextOf(renewal).valueMinor),
  );
  for (const [at, renewal] of renewals.entries()) {
    const said = asked?.find(({ agreementId }) => agreementId === renewal.chain.id);
    await assertMayChange(w, w.who, renewal.chain.ownerId);
    await renewOne(w, renewal, {
      dealId: deal.id,
      valueMinor: said?.valueMinor ?? shares[at]!,
      ...(said?.months ? { months: said.months } : {}),
      ...(said?.until ? { until: said.until } : {}),
    });
  }
}

interface Agreed {
  readonly dealId: string;
  readonly valueMinor: number;
  readonly months?: number;
  readonly until?: string;
}

async function renewOne(w: PersonWork, { chain, term }: Renewal, agreed: Agreed): Promise<void> {
  const { dealId, ...next } = agreed;
  if (next.until !== undefined && next.until <= term.endsOn)
    throw refuse($localize`must end after ${term.endsOn}:endsOn:, when the next term begins`);
  if (chain.leavesOn !== null) await takeEndBack(w, chain.id);
  const until = chain.terms.filter(({ n }) => n <= term.n);
  const made = termAfter({ ...chain, terms: until }, { ...next, how: 'renewed' });
  const after = chain.terms.filter(({ n }) => n > term.n);
  if (after.length === 0) await insertTerm(w, chain.id, made, dealId);
  else {
    // It rolled on meanwhile: those terms are put after the one agreed on.
    const moved = correctedTerms({ ...chain, terms: [...until, made, ...after.slice(1)] }, { n: -1 });
    for (const each of moved.slice(until.length))
      await w.change(
        `UPDATE agreement_term SET starts_on = :startsOn, ends_on = :endsOn, months = :months, value_minor = :value,
                yearly_minor = :yearly, how = :how, deal_id = IF(:isAgreed, :deal, deal_id)
          WHERE agreement_id = :id AND n = :n`,
        {
          ...{ id: bytesOf(chain.id), n: each.n, startsOn: each.startsOn, endsOn: each.endsOn },
          ...{ months: each.months, value: each.valueMinor, yearly: each.yearlyMinor, how: each.how },
          ...{ isAgreed: each.n === made.n, deal: bytesOf(dealId) },
        },
      );
  }
  const [row] = await readAgreements(w, [bytesOf(chain.id)]);
  await w.change('UPDATE agreement SET version = version + 1 WHERE id = :id', { id: bytesOf(chain.id) });
  await tell(
    w,
    dealId,
    row!,
    $localize`Agreement “${row!.name}:name:” renewed until ${made.endsOn}:endsOn: for ${sayMoney(made.valueMinor, row!.currency)}:value:`,
  );
}

/**
 * What a sum is shared out as, in proportion, to the minor unit: what rounding leaves goes to the largest rests.
 * @example sharesOf(100, [1, 1, 1]) is [34, 33, 33]
 */
export function sharesOf(sum: number, parts: readonly number[]): number[] {
  const whole = parts.reduce((total, part) => total + part, 0);
  const exact = parts.map((part) => (whole === 0 ? sum / parts.length : (sum * part) / whole));
  const shares = exact.map(Math.floor);
  const order = exact
    .map((value, at) => ({ at, rest: value - Math.floor(value) }))
    .sort((one, other) => other.rest - one.rest || one.at - other.at);
  let left = sum - shares.reduce((total, share) => total + share, 0);
  for (const { at } of order) {
    if (left <= 0) break;
    shares[at]! += 1;
    left -= 1;
  }
  return shares;
}

/** A renewal is lost: each of its agreements ends with its term, for the reason that the deal was lost for. */
export async function endRenewed(
  w: PersonWork,
  dealId: string,
  lost: Pick<Extract<CloseDeal, { as: 'lost' }>, 'reason' | 'words'>,
): Promise<void> {
  for (const { chain, term } of await readRenewals(w, dealId)) {
    if (chain.leavesOn !== null) continue;
    await assertMayChange(w, w.who, chain.ownerId);
    const leavesOn = await endOfLost(w, chain, term.n);
    const { reason, words } = lost;
    await writeEnd(w, { id: chain.id, leavesOn, noticeOn: null, by: 'customer', reason, words });
    const [row] = await readAgreements(w, [bytesOf(chain.id)]);
    await tell(
      w,
      dealId,
      row!,
      $localize`Agreement “${row!.name}:name:” ends on ${leavesOn}:leavesOn:: ${reason}:reason:`,
    );
  }
}

/** A renewal is open again: a next term that has not begun, or an end to come, is taken back. */
export async function reopenRenewed(
  w: PersonWork,
  deal: Pick<Deal, 'id' | 'status' | 'closeReason'>,
): Promise<void> {
  for (const { chain, term } of await readRenewals(w, deal.id)) {
    const { today } = await ownersDay(w, chain.ownerId);
    const made = chain.terms.at(-1)!;
    if (deal.status === 'won' && made.dealId === deal.id && made.n > term.n && made.startsOn > today)
      await w.change('DELETE FROM agreement_term WHERE agreement_id = :id AND n = :n', {
        id: bytesOf(chain.id),
        n: made.n,
      });
    const [row] = await readAgreements(w, [bytesOf(chain.id)]);
    if (deal.status === 'lost' && row?.endReason === deal.closeReason && (row?.leavesOn ?? '') > today)
      await takeEndBack(w, chain.id);
  }
}

function refuse(message: string): Problem {
  return new Problem('invalid-request', {}, { fields: [{ path: 'renewed', message }] });
}

function tell(
  w: PersonWork,
  dealId: string,
  about: { readonly contactId: string | null; readonly companyId: string | null },
  body: string,
): Promise<void> {
  const { contactId, companyId } = about;
  return writeSystemEntry(w, { body, dealId, contactId, companyId, userId: w.who.id });
}
