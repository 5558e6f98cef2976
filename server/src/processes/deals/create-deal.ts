import type { CreateDeal, DealId } from '@kettle/contract';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { readStage } from '../../records/pipelines/index';
import { readAt } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { readDeal } from './deal-rows';
import { writeFirstStep } from './first-step';
import { enter } from './stages';
import { amountOf, assertParent, writeParts } from './write-deal';
import { type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** What a deal is made from beside what was asked for. */
export interface DealOrigin {
  readonly leadId?: string;
  /** The won deal that was handed on. */
  readonly originId?: string;
  /** The application makes it for its owner, whoever the contact belongs to. */
  readonly isByItself?: boolean;
  /** Whose it is; left out, whoever makes it. */
  readonly ownerId?: string;
  /** It was under way elsewhere: the tasks of its stage are not planned. */
  readonly isUnderWay?: boolean;
}

/**
 * Makes a deal with its next step. Nothing is asked of one that begins: what a stage needs is asked when a deal moves there.
 * @throws Problem `not-found`, `not-yours`, `reason-needed`, `invalid-request`
 */
export async function createDeal(w: PersonWork, body: CreateDeal, origin: DealOrigin = {}): Promise<DealId> {
  const id = newId<DealId>();
  const now = w.now;
  const [contact] = await w.rows<Row<'contact', 'company_id' | 'owner_id'>>(
    'SELECT company_id, owner_id FROM contact WHERE id = :id',
    { id: bytesOf(body.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  if (origin.isByItself !== true) await assertMayChange(w, w.who, idOrNull(contact.owner_id));
  const stage = await readStage(w, body.stageId);
  await assertParent(w, id, body.parentId ?? null);
  const { organisation } = await w.settings();
  await w.change(
    `INSERT INTO deal (id, name, company_id, contact_id, stage_id, owner_id, amount_minor, currency, win_probability,
        expected_close_on, ${dealPlain.columns}, parent_id, lead_id, origin_id, stage_since, changed_at, created_at)
     VALUES (:id, :name, :company, :contact, :stage, :owner, :amount, :currency, :probability,
        :close, ${dealPlain.placeholders}, :parent, :lead, :origin, :now, :now, :now)`,
    {
      id: bytesOf(id),
      name: body.name,
      company: contact.company_id,
      contact: bytesOf(body.contactId),
      stage: bytesOf(stage.id),
      owner: bytesOf(origin.ownerId ?? w.who.id),
      amount: amountOf(body.lines ?? [], body.amountMinor),
      currency: body.currency ?? organisation.currency,
      probability: body.winProbability ?? null,
      close: body.expectedCloseOn,
      ...dealPlain.write(body),
      parent: bytesOf(body.parentId),
      lead: bytesOf(origin.leadId),
      origin: bytesOf(origin.originId),
      now: sqlInstant(now),
    },
  );
  await writeParts(w, id, body);
  await writeFirstStep(w, { ...body, id, companyId: idOrNull(contact.company_id) });
  const deal = await readDeal(w, id, readAt(w.services, w.who));
  await enter(w, deal, stage, origin.isUnderWay !== true);
  const { contactId, companyId } = deal;
  await writeSystemEntry(w, {
    contactId,
    companyId,
    dealId: id,
    userId: w.who.id,
    body: $localize`Deal “${body.name}:name:” made`,
  });
  w.say($localize`Deal “${body.name}:name:” created`);
  return id;
}
