import type { AgreementId, UserId } from '@kettle/contract';
import type { Chain, ChainTerm, Uplift } from '@kettle/core/agreements';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';

/** A term as it is kept: with the deal it was won with, and the one about what follows it. */
export interface StoredTerm extends ChainTerm {
  readonly dealId: string | null;
  readonly renewalDealId: string | null;
}

export interface StoredChain extends Chain {
  readonly id: AgreementId;
  readonly ownerId: UserId;
  readonly terms: readonly StoredTerm[];
}

type TermRow = Row<
  'agreement_term',
  | 'agreement_id'
  | 'n'
  | 'starts_on'
  | 'ends_on'
  | 'months'
  | 'value_minor'
  | 'yearly_minor'
  | 'how'
  | 'deal_id'
  | 'renewal_deal_id'
>;

const termOf = (row: TermRow): StoredTerm => ({
  n: row.n,
  startsOn: row.starts_on,
  endsOn: row.ends_on,
  months: row.months,
  valueMinor: wholeNumber(row.value_minor),
  yearlyMinor: wholeNumber(row.yearly_minor),
  how: row.how,
  dealId: idOrNull<string>(row.deal_id),
  renewalDealId: idOrNull<string>(row.renewal_deal_id),
});

/** @param by hundredths of a percent, or minor units a term */
export const upliftOf = (kind: Uplift['kind'], by: number): Uplift =>
  kind === 'percent' ? { kind, hundredths: by } : kind === 'amount' ? { kind, minor: by } : { kind };

const perAgreement = <Each extends { agreement_id: IdBytes }>(rows: readonly Each[]) => {
  const found = new Map<string, Each[]>();
  for (const row of rows) {
    const key = row.agreement_id.toString('hex');
    const known = found.get(key);
    if (known) known.push(row);
    else found.set(key, [row]);
  }
  return found;
};

/** Agreements with all their terms and changes, in the order of their ids. */
export async function readChains(db: Queryable, ids: readonly string[]): Promise<StoredChain[]> {
  if (ids.length === 0) return [];
  const keys = { ids: ids.map((id) => bytesOf(id)) };
  const agreements = await db.rows<
    Row<
      'agreement',
      | 'id'
      | 'owner_id'
      | 'renews_itself'
      | 'notice_days'
      | 'lead_days'
      | 'uplift_kind'
      | 'uplift_by'
      | 'leaves_on'
    >
  >(
    `SELECT id, owner_id, renews_itself, notice_days, lead_days, uplift_kind, uplift_by, leaves_on FROM agreement
      WHERE id IN (:ids) ORDER BY id`,
    keys,
  );
  const terms = perAgreement(
    await db.rows<TermRow>(
      `SELECT agreement_id, n, starts_on, ends_on, months, value_minor, yearly_minor, how, deal_id, renewal_deal_id
         FROM agreement_term WHERE agreement_id IN (:ids) ORDER BY agreement_id, n`,
      keys,
    ),
  );
  const changes = perAgreement(
    await db.rows<Row<'agreement_change', 'agreement_id' | 'on_day' | 'value_minor'>>(
      'SELECT agreement_id, on_day, value_minor FROM agreement_change WHERE agreement_id IN (:ids) ORDER BY agreement_id, on_day',
      keys,
    ),
  );
  return agreements.flatMap((row) => {
    const key = row.id.toString('hex');
    const own = terms.get(key);
    if (own === undefined) return [];
    return {
      id: idOf(row.id),
      ownerId: idOf<UserId>(row.owner_id),
      terms: own.map(termOf),
      changes: (changes.get(key) ?? []).map((change) => ({
        on: change.on_day,
        valueMinor: wholeNumber(change.value_minor),
      })),
      renewsItself: row.renews_itself === 1,
      noticeDays: row.notice_days,
      leadDays: row.lead_days,
      uplift: upliftOf(row.uplift_kind, wholeNumber(row.uplift_by)),
      leavesOn: row.leaves_on,
    };
  });
}
