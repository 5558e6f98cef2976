import type { ChangeDeal, Deal, MoveDeal, NotchDeal } from '@kettle/contract';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { differencesOf } from '@kettle/core/fields';
import { sayMoney } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { customAt, sayCustom } from '../../records/fields/index';
import { isSame, itemOf, mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import { readStage } from '../../records/pipelines/index';
import { readAt, readPerson } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { readDeal } from './deal-rows';
import { lockDeal } from './lock-deal';
import { changeStage } from './stages';
import { amountOf, assertParent, writeParts } from './write-deal';
import type { PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** Puts an open deal into another stage or month, with what that stage asks for. */
export async function moveDeal(w: PersonWork, dealId: string, to: MoveDeal): Promise<void> {
  const deal = await readDeal(w, dealId, readAt(w.services, w.who));
  const { decider, signer, competitor, ...facts } = to.facts ?? {};
  const asked = [
    ...(decider ? [{ contactId: decider, role: 'decides' as const }] : []),
    ...(signer ? [{ contactId: signer, role: 'signs' as const }] : []),
  ];
  await changeDeal(w, dealId, {
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
}

/** Cuts a deal's bar as far as it is within its stage. */
export async function notchDeal(w: PersonWork, dealId: string, to: NotchDeal): Promise<void> {
  const { name, stageId, amountMinor, expectedCloseOn } = await readDeal(
    w,
    dealId,
    readAt(w.services, w.who),
  );
  await changeDeal(w, dealId, { ...to, name, stageId, amountMinor, expectedCloseOn, tick: [] });
}

/** Where the fields of a change are kept, so that two people's changes meet field by field. */
const fields: FieldsAt<ChangeDeal> = {
  name: { column: 'name' },
  stageId: { column: 'stage_id' },
  amountMinor: { column: 'amount_minor' },
  currency: { column: 'currency' },
  expectedCloseOn: { column: 'expected_close_on' },
  winProbability: { column: 'win_probability' },
  notches: { column: 'notches' },
  ...dealPlain.each((_, { column }) => ({ column })),
  parentId: { column: 'parent_id' },
  contactId: { column: 'contact_id' },
  ownerId: { column: 'owner_id' },
  tick: 'not kept',
  people: { rows: 'deal_person', of: 'deal_id' },
  lines: { rows: 'deal_line', of: 'deal_id' },
  competitors: { rows: 'deal_competitor', of: 'deal_id', item: itemOf('name') },
  teamIds: { rows: 'deal_colleague', of: 'deal_id', item: itemOf('user_id', true) },
  custom: customAt,
};

/** A deal in the words of a change: what a form that was left as it is sends. */
const asChange = (deal: Deal): Partial<ChangeDeal> => ({
  name: deal.name,
  stageId: deal.stageId,
  amountMinor: deal.amountMinor,
  currency: deal.currency,
  expectedCloseOn: deal.expectedCloseOn,
  winProbability: deal.ownProbability,
  notches: deal.notches,
  ...dealPlain.valuesOf(deal),
  parentId: deal.parent?.id ?? null,
  contactId: deal.contactId ?? undefined,
  ownerId: deal.ownerId,
  people: deal.people.map(({ contactId, role }) => ({ contactId, role })),
  lines: deal.lines.map(({ productId, name, quantity, priceMinor, discountPercent, billing }) => ({
    productId,
    name,
    quantity,
    priceMinor,
    discountPercent,
    billing,
  })),
  competitors: deal.competitors,
  teamIds: deal.team.map(({ id }) => id),
});

/** A change of an open deal, with everything that was said of it, all or nothing. */
export async function changeDeal(w: PersonWork, dealId: string, asked: ChangeDeal): Promise<void> {
  const now = w.now;
  const before = await lockDeal(w, { id: dealId, isOpen: true });
  const current = asChange(before);
  const body = await mergeChange(w, { table: 'deal', id: dealId, fields, asked, record: before, current });
  const to = await readStage(w, body.stageId);
  if (body.parentId !== undefined) await assertParent(w, dealId, body.parentId);
  const amountMinor = amountOf(body.lines ?? before.lines, body.amountMinor);
  const currency = body.currency ?? before.currency;
  const contact = await readContactFor(w, before, body.contactId);
  const ownerId = await newOwner(w, before, body.ownerId);
  // Amount and close date are real changes: patience counts from now. A change of stage sets it further down.
  const isReal =
    amountMinor !== before.amountMinor ||
    currency !== before.currency ||
    body.expectedCloseOn !== before.expectedCloseOn;
  await w.change(
    `UPDATE deal SET name = :name, amount_minor = :amount, currency = :currency, expected_close_on = :close, win_probability = :probability,
            notches = :notches, ${dealPlain.sets}, parent_id = :parent,
            contact_id = :contact, company_id = :company, owner_id = :owner, changed_at = IF(:isReal, :now, changed_at)
      WHERE id = :id`,
    {
      id: bytesOf(dealId),
      name: body.name,
      amount: amountMinor,
      currency,
      close: body.expectedCloseOn,
      probability: body.winProbability === undefined ? before.ownProbability : body.winProbability,
      notches: body.notches ?? before.notches,
      ...dealPlain.write({ ...before, ...sentOf(body) }),
      parent: bytesOf(body.parentId === undefined ? before.parent?.id : body.parentId),
      ...contact,
      owner: bytesOf(ownerId),
      isReal,
      now: sqlInstant(now),
    },
  );
  await writeParts(w, dealId, {
    ...body,
    // What hangs on the deal and is the same is not written anew.
    ...(isSame(body.people, asChange(before).people) ? { people: undefined } : {}),
    ...(isSame(body.competitors, before.competitors) ? { competitors: undefined } : {}),
    ...(isSame(body.teamIds, asChange(before).teamIds) ? { teamIds: undefined } : {}),
    ...(isSame(body.lines, asChange(before).lines) ? { lines: undefined } : {}),
  });
  await tickPrompts(w, before, body.tick);
  const after = await readDeal(w, dealId, readAt(w.services, w.who));
  await noteWhatChanged(w, before, after);
  await changeStage(w, before, after, to);
}

/** The person a deal is with, and their company; left out, both stay. */
async function readContactFor(tx: Queryable, before: Deal, contactId: string | undefined) {
  if (contactId === undefined || contactId === before.contactId)
    return { contact: bytesOf(before.contactId), company: bytesOf(before.companyId) };
  const [row] = await tx.rows<Row<'contact', 'company_id'>>('SELECT company_id FROM contact WHERE id = :id', {
    id: bytesOf(contactId),
  });
  if (row) return { contact: bytesOf(contactId), company: bytesOf(idOrNull<string>(row.company_id)) };
  throw new Problem(
    'invalid-request',
    {},
    { fields: [{ path: 'contactId', message: $localize`is not here any more` }] },
  );
}

/** Whoever may change a deal may hand it over, but for its team: only its owner and managers give it away. */
async function newOwner(w: PersonWork, before: Deal, ownerId: string | undefined): Promise<string> {
  if (ownerId === undefined || ownerId === before.ownerId) return before.ownerId;
  if (!mayChange(w.who, before.ownerId)) throw new Problem('not-yours', { owner: before.ownerName });
  const owner = await readPerson(w, ownerId as Deal['ownerId']);
  await w.change(
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
export async function tickPrompts(w: PersonWork, deal: Deal, promptIds: readonly string[]): Promise<void> {
  const known = new Set(deal.prompts.map(({ id }) => id));
  const rows = promptIds
    .filter((id) => known.has(id))
    .map((id) => [bytesOf(deal.id), bytesOf(id), bytesOf(w.who.id), sqlInstant(w.now)]);
  if (rows.length > 0)
    await w.change('INSERT IGNORE INTO prompt_tick (deal_id, prompt_id, user_id, at) VALUES :rows', {
      rows,
    });
}

/** Every field that is another now, from and to. */
async function noteWhatChanged(w: PersonWork, before: Deal, after: Deal): Promise<void> {
  const sayOwn = await sayCustom(w, 'deal');
  const sayDeal = (deal: Deal): readonly (readonly [string, string])[] => [
    [$localize`Name`, deal.name],
    [$localize`Value`, sayMoney(deal.amountMinor, deal.currency)],
    [$localize`Expected close`, deal.expectedCloseOn ?? $localize`no date`],
    [
      $localize`Own probability`,
      deal.ownProbability === null ? 'none' : `${Math.round(deal.ownProbability * 100)} %`,
    ],
    [$localize`Notches`, String(deal.notches)],
    ...dealPlain.say(deal),
    [$localize`Part of`, deal.parent?.name ?? 'none'],
    [$localize`Owner`, deal.ownerName],
    [$localize`With`, deal.contactName ?? $localize`nobody`],
    [$localize`People`, deal.people.map(({ name, role }) => `${name} ${role}`).join(', ') || 'nobody'],
    [$localize`Team`, deal.team.map(({ name }) => name).join(', ') || 'nobody'],
    [$localize`Competitors`, deal.competitors.join(', ') || 'none'],
    [
      $localize`Product lines`,
      deal.lines
        .map(
          ({ name, quantity, totalMinor }) => `${quantity} × ${name}, ${sayMoney(totalMinor, deal.currency)}`,
        )
        .join('; ') || 'none',
    ],
    ...sayOwn(deal.custom),
  ];
  const words = differencesOf(sayDeal(before), sayDeal(after));
  if (words.length === 0) return;
  const { id: dealId, contactId, companyId } = after;
  const body = words.join('; ');
  await writeSystemEntry(w, { body, dealId, contactId, companyId, userId: w.who.id });
  w.say(`${before.name}: ${body}`);
}
