import type {
  ContactId,
  CreateContactBody,
  CreateLead,
  CustomValue,
  LeadId,
  OwnerRule,
  UserId,
} from '@kettle/contract';
import { leadPlain, type LeadPlain } from '@kettle/contract/base/catalogues';
import { ownerByRule, type Colleague, type NewLead } from '@kettle/core/leads';
import type { Queryable } from '../../platform/database/database';
import { instantOrNull, sqlInstant, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { addContact, readContact } from '../../records/contacts/index';
import { assertMayChange } from '../../records/rights/index';
import { writeCustomValues } from '../../records/fields/index';
import { type SignedIn, readSignedIn } from '../../records/users/index';
import { actingAs, type PersonWork, type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';
import type { Writing } from '../../platform/work/work';
import { takeTurn } from '../../platform/work/take-turn';

export interface LeadDraft extends Partial<LeadPlain> {
  readonly id?: LeadId;
  readonly subject: string;
  /** As they said it; of somebody known, their own company stands. */
  readonly companyName?: string | null;
  readonly postcode?: string | null;
  readonly formId?: string | null;
  readonly consentWords?: string | null;
  /** Whether the consent counts only once it is confirmed by mail. */
  readonly confirmsConsent?: boolean;
  readonly importId?: string | null;
  readonly tags?: readonly string[];
  readonly custom?: Readonly<Record<string, CustomValue>> | undefined;
  /** Undefined lets the rule decide; null is the pool. */
  readonly ownerId?: UserId | null | undefined;
}

/**
 * Somebody new, nobody's yet, kept without a company: that is decided when the lead is qualified. A firm without a person is
 * its company. Nobody is signed in when a stranger fills in a form: then it is in the name of an admin.
 */
async function addPerson(w: Work, person: CreateContactBody): Promise<ContactId> {
  const id = await addContact(actingAs(w, w.who ?? (await anyAdmin(w))), {
    ...person,
    companyName: person.category === 'organisation' ? person.companyName : null,
  });
  await w.change('UPDATE contact SET owner_id = NULL WHERE id = :id', { id: bytesOf(id) });
  return id;
}

/** Home country and zone of a new person come from somebody of the house. */
async function anyAdmin(w: Work): Promise<SignedIn> {
  const [row] = await w.rows<Row<'app_user', 'id'>>(
    "SELECT id FROM app_user ORDER BY role = 'admin' DESC, created_at, id LIMIT 1",
  );
  if (!row) throw new Error('a form was filled in before anybody was here');
  return readSignedIn(w, idOf(row.id), w.now);
}

/** Whom a lead is on: somebody known, or somebody new who is added with it. */
export type LeadPerson = { readonly contactId: ContactId } | { readonly person: CreateContactBody };

/** The same as somebody asks for it. @throws Problem `not-yours` for somebody known of a colleague */
export async function createLead(
  w: PersonWork,
  { contactId, person, ...draft }: CreateLead,
): Promise<LeadId> {
  if (person !== undefined) return addLead(w, { person }, { ...draft, companyName: person.companyName });
  // The contract has seen to it that one of both is there.
  const known = await readContact(w, contactId!);
  await assertMayChange(w, w.who, known.ownerId);
  return addLead(w, { contactId: known.id }, draft);
}

/**
 * Adds a lead. Its owner is the one who was named, else the contact's own, else whom the rule gives it to, else the pool; a
 * contact that was nobody's goes with it.
 * @throws Problem `not-found`, `invalid-request` at a field of the person
 */
export async function addLead(w: Work, on: LeadPerson, draft: LeadDraft): Promise<LeadId> {
  const contactId = 'contactId' in on ? on.contactId : await addPerson(w, on.person);
  const own = await ownerOf(w, contactId);
  const isByRule = draft.ownerId === undefined && own === null;
  const ownerId = isByRule
    ? await ownerForNew(w, await placeOf(w, contactId, draft.postcode ?? null))
    : draft.ownerId === undefined
      ? own
      : draft.ownerId;
  if (own === null && ownerId !== null)
    await w.change('UPDATE contact SET owner_id = :owner WHERE id = :id AND owner_id IS NULL', {
      id: bytesOf(contactId),
      owner: bytesOf(ownerId),
    });
  const id = draft.id ?? newId<LeadId>();
  await insertLead(w, id, contactId, {
    ...draft,
    ownerId,
    givenAt: isByRule && ownerId !== null ? w.now : null,
  });
  await writeLeadTags(w, id, draft.tags ?? []);
  await writeCustomValues(w, 'lead', id, draft.custom ?? {});
  await tell(w, { id, contactId, ownerId, draft });
  return id;
}

/** Adds tags to a lead that has none. */
export async function writeLeadTags(w: Writing, id: LeadId, tags: readonly string[]): Promise<void> {
  const rows = [...new Set(tags)].map((tag) => [bytesOf(id), tag]);
  if (rows.length > 0) await w.change('INSERT INTO lead_tag (lead_id, tag) VALUES :rows', { rows });
}

async function ownerOf(tx: Queryable, contactId: string): Promise<UserId | null> {
  const [contact] = await tx.rows<Row<'contact', 'owner_id'>>(
    'SELECT owner_id FROM contact WHERE id = :id FOR UPDATE',
    { id: bytesOf(contactId) },
  );
  if (!contact) throw new Problem('not-found');
  return idOrNull(contact.owner_id);
}

/** Where a lead is from: as its person is kept, whose country may come from their number; a postcode that was asked for goes first. */
async function placeOf(tx: Queryable, contactId: string, postcode: string | null): Promise<NewLead> {
  const [row] = await tx.rows<NewLead>(
    'SELECT c.country, co.postcode, co.city FROM contact c LEFT JOIN company co ON co.id = c.company_id WHERE c.id = :id',
    { id: bytesOf(contactId) },
  );
  return { country: null, city: null, ...row, postcode: postcode ?? row?.postcode ?? null };
}

async function insertLead(
  w: Writing,
  id: LeadId,
  contactId: string,
  draft: LeadDraft & { readonly ownerId: UserId | null; readonly givenAt: string | null },
): Promise<void> {
  await w.change(
    `INSERT INTO sales_lead (id, contact_id, owner_id, status_since, hand_at, ${leadPlain.columns}, company_name, postcode, form_id, consent_words, consent_at, consent_confirms, import_id, given_at, created_at)
     SELECT :id, c.id, :owner, :now, :now, ${leadPlain.placeholders}, IF(c.company_id IS NULL, :companyName, NULL), :postcode, :form, :consentWords, IF(:consentWords IS NULL, NULL, :now), :confirms, :import, :givenAt, :now
       FROM contact c WHERE c.id = :contact`,
    {
      id: bytesOf(id),
      contact: bytesOf(contactId),
      owner: bytesOf(draft.ownerId),
      ...leadPlain.write(draft),
      companyName: draft.companyName ?? null,
      postcode: draft.postcode ?? null,
      form: bytesOf(draft.formId),
      consentWords: draft.consentWords ?? null,
      confirms: draft.confirmsConsent ?? false,
      import: bytesOf(draft.importId),
      givenAt: sqlInstant(draft.givenAt),
      now: sqlInstant(w.now),
    },
  );
}

/** The journal has it, and its owner hears of it unless they wrote it themselves. */
async function tell(
  w: Work,
  lead: { id: LeadId; contactId: ContactId; ownerId: UserId | null; draft: LeadDraft },
): Promise<void> {
  const { id, contactId, ownerId, draft } = lead;
  const origin = [draft.source, draft.campaign].filter(Boolean).join(', ');
  const body = $localize`Lead: ${draft.subject}:subject:${origin ? ` (${origin})` : ''}:origin:`;
  await writeSystemEntry(w, { body, contactId, userId: w.who?.id ?? null });
  if (ownerId !== null && ownerId !== w.who?.id)
    await notify(
      w,
      'given',
      [ownerId],
      $localize`A new lead: ${draft.subject}:subject:`,
      `/deals/leads/${id}`,
    );
}

/** Whom the organisation's rule gives a new lead to; null is the pool. One lead after the other, so that two at once get two owners. */
async function ownerForNew(w: Work, lead: NewLead): Promise<UserId | null> {
  await takeTurn(w, 'lead-owner');
  const { ownerRule } = (await w.settings()).leads;
  const ids = idsOf(ownerRule);
  if (ids.length === 0) return null;
  // Ids of colleagues come from the database, so the chosen one is a user's.
  return ownerByRule(ownerRule, lead, await readColleagues(w, ids)) as UserId | null;
}

function idsOf(rule: OwnerRule): string[] {
  switch (rule.kind) {
    case 'pool':
      return [];
    case 'in-turn':
    case 'load':
      return rule.userIds;
    case 'region':
      return [...rule.regions.map(({ userId }) => userId), ...idsOf(rule.otherwise)];
  }
}

/** Relies on lead_owner and lead_given. */
async function readColleagues(tx: Queryable, ids: readonly string[]): Promise<Colleague[]> {
  const rows = await tx.rows<Row<'app_user', 'id'> & { live: string; last_given_at: string | null }>(
    `SELECT u.id,
            (SELECT COUNT(*) FROM sales_lead l WHERE l.owner_id = u.id AND l.status IN ('untried', 'trying', 'in-talks')
                AND l.archived_at IS NULL) AS live,
            (SELECT MAX(l.given_at) FROM sales_lead l WHERE l.owner_id = u.id) AS last_given_at
       FROM app_user u WHERE u.id IN (:ids) ORDER BY u.id`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
  return rows.map((row) => ({
    id: idOf<string>(row.id),
    liveLeads: wholeNumber(row.live),
    lastGivenAt: instantOrNull(row.last_given_at),
  }));
}
