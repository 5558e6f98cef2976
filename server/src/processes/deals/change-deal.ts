import type { ChangeDeal, Deal, MoveDeal } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import { readStage } from '../pipelines/read-pipelines';
import { mayChange } from '../../records/users/rights';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { readPerson } from '../../records/users/users';
import { readDeal } from './deal-rows';
import { lockDeal } from './lock-deal';
import { changeStage } from './stages';
import { amountOf, assertParent, writeParts } from './write-deal';

/** A change of an open deal, with everything that was said of it, all or nothing. */
export async function changeDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  body: ChangeDeal,
): Promise<Deal> {
  const { database, feed } = services;
  await database.transaction((tx) => changeInside(tx, services, who, dealId, body));
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}

/** Puts an open deal into another stage or month, with what that stage asks for. */
export async function moveDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  to: MoveDeal,
): Promise<Deal> {
  const { database, feed } = services;
  await database.transaction(async (tx) => {
    const deal = await readDeal(tx, dealId, todayOf(services, who));
    const { decider, signer, competitor, ...facts } = to.facts ?? {};
    const asked = [
      ...(decider ? [{ contactId: decider, role: 'decides' as const }] : []),
      ...(signer ? [{ contactId: signer, role: 'signs' as const }] : []),
    ];
    await changeInside(tx, services, who, dealId, {
      version: to.version,
      name: deal.name,
      stageId: to.stageId,
      amountMinor: deal.amountMinor,
      expectedCloseOn: to.expectedCloseOn,
      tick: to.tick,
      ...facts,
      ...(asked.length > 0 ? { people: [...deal.people, ...asked] } : {}),
      ...(competitor ? { competitors: [...deal.competitors, competitor] } : {}),
    });
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}

async function changeInside(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  dealId: string,
  body: ChangeDeal,
): Promise<void> {
  const now = services.clock.now();
  const today = todayOf(services, who);
  const before = await lockDeal(tx, services, who, { id: dealId, version: body.version, isOpen: true });
  const to = await readStage(tx, body.stageId);
  if (body.parentId !== undefined) await assertParent(tx, dealId, body.parentId);
  const amountMinor = amountOf(body.lines ?? before.lines, body.amountMinor);
  const contact = await readContactFor(tx, before, body.contactId);
  const ownerId = await newOwner(tx, who, before, body.ownerId);
  // Amount and close date are real changes: patience counts from now. A change of stage sets it further down.
  const isReal = amountMinor !== before.amountMinor || body.expectedCloseOn !== before.expectedCloseOn;
  await tx.change(
    `UPDATE deal SET name = :name, amount_minor = :amount, expected_close_on = :close, win_probability = :probability,
            decision_on = :decision, type = :type, priority = :priority, source = :source, parent_id = :parent,
            contact_id = :contact, company_id = :company, owner_id = :owner, changed_at = IF(:isReal, :now, changed_at)
      WHERE id = :id`,
    {
      id: bytesOf(dealId),
      name: body.name,
      amount: amountMinor,
      close: body.expectedCloseOn,
      probability: body.winProbability === undefined ? before.ownProbability : body.winProbability,
      decision: body.decisionOn === undefined ? before.decisionOn : body.decisionOn,
      type: body.type ?? before.type,
      priority: body.priority ?? before.priority,
      source: body.source === undefined ? before.source : body.source,
      parent: bytesOf(body.parentId === undefined ? before.parent?.id : body.parentId),
      ...contact,
      owner: bytesOf(ownerId),
      isReal,
      now: sqlInstant(now),
    },
  );
  await writeParts(tx, dealId, body);
  await tickPrompts(tx, who, before, body.tick, now);
  const after = await readDeal(tx, dealId, today);
  await noteWhatChanged(tx, who, before, after, now);
  await changeStage({ tx, services, who, now }, before, after, to);
  await refreshNextSteps(tx, { contactIds: [before.contactId, after.contactId], dealIds: [dealId] }, now);
  await noteChange(tx, 'deal', dealId, who.id);
}

/** The person a deal is with, and their company; left out, both stay. */
async function readContactFor(tx: Queryable, before: Deal, contactId: string | undefined) {
  if (contactId === undefined || contactId === before.contactId)
    return { contact: bytesOf(before.contactId), company: bytesOf(before.companyId) };
  const [row] = await tx.rows<{ company_id: IdBytes | null }>(
    'SELECT company_id FROM contact WHERE id = :id',
    {
      id: bytesOf(contactId),
    },
  );
  if (row) return { contact: bytesOf(contactId), company: bytesOf(idOrNull<string>(row.company_id)) };
  throw new Problem(
    'invalid-request',
    {},
    { fields: [{ path: 'contactId', message: 'is not here any more' }] },
  );
}

/** Whoever may change a deal may hand it over, but for its team: only its owner and managers give it away. */
async function newOwner(
  tx: Queryable,
  who: SignedIn,
  before: Deal,
  ownerId: string | undefined,
): Promise<string> {
  if (ownerId === undefined || ownerId === before.ownerId) return before.ownerId;
  if (!mayChange(who, before.ownerId)) throw new Problem('not-yours', { owner: before.ownerName });
  const owner = await readPerson(tx, ownerId as Deal['ownerId']);
  await tx.change(
    "UPDATE task SET owner_id = :to, version = version + 1 WHERE deal_id = :deal AND owner_id = :from AND state = 'open'",
    {
      to: bytesOf(owner.id),
      from: bytesOf(before.ownerId),
      deal: bytesOf(before.id),
    },
  );
  return owner.id;
}

/** Only prompts of the stage the deal is in are ticked. */
export async function tickPrompts(
  tx: Queryable,
  who: SignedIn,
  deal: Deal,
  promptIds: readonly string[],
  now: string,
): Promise<void> {
  const known = new Set(deal.prompts.map(({ id }) => id));
  const rows = promptIds
    .filter((id) => known.has(id))
    .map((id) => [bytesOf(deal.id), bytesOf(id), bytesOf(who.id), sqlInstant(now)]);
  if (rows.length > 0)
    await tx.change('INSERT IGNORE INTO prompt_tick (deal_id, prompt_id, user_id, at) VALUES :rows', {
      rows,
    });
}

/** Value, expected close, owner and people are history worth reading; a name put right is not. */
async function noteWhatChanged(
  tx: Queryable,
  who: SignedIn,
  before: Deal,
  after: Deal,
  now: string,
): Promise<void> {
  const money = (deal: Deal) => sayMoney(deal.amountMinor, deal.currency);
  const people = (deal: Deal) =>
    deal.people.map(({ name, role }) => `${name} ${role}`).join(', ') || 'nobody';
  const told: readonly (readonly [string, string, string])[] = [
    ['Value', money(before), money(after)],
    ['Expected close', before.expectedCloseOn ?? 'no date', after.expectedCloseOn ?? 'no date'],
    ['Owner', before.ownerName, after.ownerName],
    ['With', before.contactName ?? 'nobody', after.contactName ?? 'nobody'],
    ['People', people(before), people(after)],
    ['Competitors', before.competitors.join(', ') || 'none', after.competitors.join(', ') || 'none'],
  ];
  const words = told.filter(([, was, is]) => was !== is).map(([name, was, is]) => `${name}: ${was} → ${is}`);
  if (words.length === 0) return;
  const { id: dealId, contactId, companyId } = after;
  await writeSystemEntry(tx, { body: words.join('; '), dealId, contactId, companyId, userId: who.id, now });
}
