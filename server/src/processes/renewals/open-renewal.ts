import type { AgreementRow, DealId, NextStep, UserId } from '@kettle/contract';
import { termAfter } from '@kettle/core/agreements';
import { onOrAfterWorkingDay, sayDate } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import { actingAs, type PersonWork, type Work } from '../../platform/work/work';
import { insertEntries } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { assertMayChange } from '../../records/rights/index';
import { readSignedIn, readStandIn } from '../../records/users/index';
import { ownersDay, readAgreements, readChains, type StoredChain } from '../agreements/index';
import { createDeal } from '../deals/index';
import { readRenewalStep } from './renewal-step';
import { firstRenewalStage } from './renewals-pipeline';
import { renewalMailKind } from './renewal-mail';
import { sayWhatIsKnown } from './what-is-known';

/**
 * The lead day of an agreement has come: it is said once for each term, whatever is tried again, and the talk about the next term begins,
 * unless an admin's rule says for which it does. In the transaction of the job that found it, behind the agreement's row lock: the deal and
 * the mark that it was made are there together or not at all.
 */
export async function beginRenewal(w: Work<null>, agreementId: string, n: number): Promise<void> {
  const [locked] = await w.rows<
    Row<'agreement', 'led_n' | 'term_n' | 'decision' | 'archived_at' | 'contact_id'>
  >('SELECT led_n, term_n, decision, archived_at, contact_id FROM agreement WHERE id = :id FOR UPDATE', {
    id: bytesOf(agreementId),
  });
  // Deleted, decided, archived or begun by hand meanwhile.
  if (locked === undefined || locked.archived_at !== null || locked.decision !== 'open') return;
  if (locked.term_n !== n || locked.led_n >= n) return;
  const [agreement] = await readAgreements(w, [bytesOf(agreementId)]);
  const subjects = [agreement!.contactId, agreement!.companyId].filter((id) => id !== null);
  w.publish({
    ...{ kind: 'renewal-due', topic: 'agreement', recordId: agreementId },
    ...{ owners: [agreement!.ownerId], data: { subjects } },
  });
  if ((await readRenewalStep(w)) === null) return leadRenewal(w, agreement!);
  await markLed(w, [agreementId]);
  w.say($localize`The lead day of ${agreement!.name}:name: came`);
}

/**
 * Begins the talk about the next term of one agreement in its owner's name, and tells whoever leads it. One that is begun or decided
 * already is left alone. Behind the agreement's row lock.
 * @returns whether there is a deal now that was not there
 */
export async function beginAsked(w: Work, agreementId: string): Promise<boolean> {
  await w.rows('SELECT 1 FROM agreement WHERE id = :id FOR UPDATE', { id: bytesOf(agreementId) });
  const [agreement] = await readAgreements(w, [bytesOf(agreementId)]);
  if (agreement === undefined) throw new Problem('not-found');
  if (agreement.renewalDealId !== null || agreement.decision !== 'open' || agreement.state === 'ended')
    return false;
  await leadRenewal(w, agreement);
  return agreement.contactId !== null;
}

async function leadRenewal(w: Work, agreement: AgreementRow): Promise<void> {
  const owner = await readSignedIn(w, agreement.ownerId, w.now);
  if (agreement.contactId === null) {
    await markLed(w, [agreement.id]);
    const words = $localize`A renewal comes up, and nobody is known there: ${agreement.name}:name:`;
    return notify(w, 'renewal', [owner.id], words, `/agreements/${agreement.id}`, true);
  }
  const dealId = await makeRenewal(actingAs(w, owner), [agreement], null);
  const { today } = await ownersDay(w, owner.id);
  const standIn = await readStandIn(w, owner.id, today);
  const when = sayDate(agreement.noticeDeadlineOn, today);
  const told = standIn === null ? [owner.id] : [owner.id, standIn];
  const words = $localize`A renewal comes up: ${agreement.name}:name:, notice closes ${when}:when:`;
  await notify(w, 'renewal', told, words, `/deals/${dealId}`);
  for (const userId of told)
    await enqueue(w, {
      kind: renewalMailKind,
      dedupeKey: `${renewalMailKind}:${dealId}:${userId}`,
      payload: { userId, dealId, agreementIds: [agreement.id], on: today },
      dueAt: w.now,
      askedBy: owner.id,
    });
  w.say($localize`Renewal of ${agreement.name}:name: begun`);
}

/**
 * Begins the talk ahead of its day: one deal for one agreement, or for several of a customer.
 * @throws Problem `not-found`, `not-yours`, `invalid-request` at `agreementIds`
 */
export async function openRenewalByHand(w: PersonWork, ids: readonly string[]): Promise<DealId> {
  const wanted = [...new Set(ids)];
  await w.rows('SELECT 1 FROM agreement WHERE id IN (:ids) ORDER BY id FOR UPDATE', {
    ids: wanted.map((id) => bytesOf(id)),
  });
  const agreements = await readAgreements(
    w,
    wanted.map((id) => bytesOf(id)),
  );
  if (agreements.length < wanted.length) throw new Problem('not-found');
  for (const { ownerId } of agreements) await assertMayChange(w, w.who, ownerId);
  const customers = new Set(agreements.map(({ companyId, contactId }) => companyId ?? contactId));
  if (customers.size > 1) throw refuse($localize`are of several customers; renew those of one at a time`);
  const currencies = new Set(agreements.map(({ currency }) => currency));
  if (currencies.size > 1) throw refuse($localize`are in several currencies; renew those of one at a time`);
  for (const { name, renewalDealId, decision, state, contactId } of agreements) {
    if (renewalDealId !== null) throw refuse($localize`has an open renewal already: ${name}:name:`);
    if (decision !== 'open') throw refuse($localize`is decided already: ${name}:name:`);
    if (state === 'ended') throw refuse($localize`has ended: ${name}:name:; make a new agreement`);
    if (contactId === null) throw refuse($localize`needs a person first: ${name}:name:`);
  }
  return makeRenewal(w, agreements, w.who.id);
}

const refuse = (message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path: 'agreementIds', message }] });

/**
 * The deal about the next term of agreements of one customer, linked to each and to the deal it was won with.
 * @param writtenBy whose the note of what is known is; nobody's where it begins by itself
 */
async function makeRenewal(
  w: PersonWork,
  agreements: readonly AgreementRow[],
  writtenBy: UserId | null,
): Promise<DealId> {
  const chains = await readChains(
    w,
    agreements.map(({ id }) => id),
  );
  const [first] = agreements;
  const { today, calendar } = await ownersDay(w, first!.ownerId);
  const deadline = agreements
    .map(({ noticeDeadlineOn }) => noticeDeadlineOn)
    .reduce((one, other) => (one < other ? one : other));
  const origin = originOf(chains);
  const year = first!.endsOn.slice(0, 4);
  const name =
    agreements.length === 1
      ? $localize`${first!.name}:name:, ${year}:year:`
      : $localize`${first!.name}:name: and ${agreements.length - 1}:more: more, ${year}:year:`;
  const next: NextStep = {
    ...{ kind: 'task', channel: 'call', promisedMinute: null, minutes: 12 },
    dueOn: onOrAfterWorkingDay(today, calendar),
    purpose: $localize`Talk about the next term: ${first!.name}:name:`.slice(0, 200),
  };
  const dealId = await createDeal(
    w,
    {
      ...{
        name: name.slice(0, 160),
        stageId: await firstRenewalStage(w),
        contactId: first!.contactId!,
        next,
      },
      ...{ currency: first!.currency, type: 'renewal', amountMinor: sumOf(chains) },
      expectedCloseOn: deadline < today ? today : deadline,
      people: await readDeciders(w, first!),
    },
    { isByItself: true, ...(origin === null ? {} : { originId: origin }) },
  );
  await markLed(
    w,
    agreements.map(({ id }) => id),
    dealId,
  );
  await insertEntries(w, [
    {
      ...{
        id: newId<string>(),
        at: w.now,
        kind: 'note',
        direction: null,
        outcomeId: null,
        outcomeLabel: null,
      },
      ...{ counts: 'none', minutes: null, userId: writtenBy, dealId, taskId: null, runId: null },
      ...{ contactId: first!.contactId, companyId: first!.companyId },
      body: (
        await sayWhatIsKnown(
          w,
          agreements.map(({ id }) => id),
          today,
        )
      ).join('\n'),
    },
  ]);
  return dealId;
}

const sumOf = (chains: readonly StoredChain[]) =>
  chains.reduce((sum, chain) => sum + termAfter(chain).valueMinor, 0);

/** The deal that the running term was won with, else the first. */
const originOf = (chains: readonly StoredChain[]): string | null =>
  chains.flatMap(({ terms }) => [terms.findLast(({ dealId }) => dealId !== null)?.dealId ?? []].flat())[0] ??
  null;

/** Those who decide and sign, of the customer's deals so far; whoever signs the agreement signs this one. */
async function readDeciders(w: PersonWork, { contactId, companyId, signerId }: AgreementRow) {
  const rows = await w.rows<Row<'deal_person', 'contact_id' | 'role'>>(
    `SELECT DISTINCT p.contact_id, p.role FROM deal_person p JOIN deal d ON d.id = p.deal_id
      WHERE p.role IN ('decides', 'signs') AND (d.contact_id = :contact OR :company IS NOT NULL AND d.company_id = :company)
      ORDER BY p.role, p.contact_id LIMIT 10`,
    { contact: bytesOf(contactId), company: bytesOf(companyId) },
  );
  const known = rows.map(({ contact_id: id, role }) => ({ contactId: idOrNull(id)!, role }));
  const hasSigner =
    signerId !== null && !known.some((each) => each.role === 'signs' && each.contactId === signerId);
  return hasSigner ? [...known, { contactId: signerId, role: 'signs' as const }] : known;
}

/** The lead day of the running term is dealt with; its deal, if there is one, hangs on the last term. */
async function markLed(w: Work, ids: readonly string[], dealId: string | null = null): Promise<void> {
  const keys = { ids: ids.map((id) => bytesOf(id)), deal: bytesOf(dealId) };
  await w.change('UPDATE agreement SET led_n = term_n WHERE id IN (:ids)', { ids: keys.ids });
  if (dealId !== null)
    await w.change(
      `UPDATE agreement_term t JOIN agreement a ON a.id = t.agreement_id SET t.renewal_deal_id = :deal
        WHERE t.agreement_id IN (:ids) AND t.n = a.term_n`,
      keys,
    );
}
