import type {
  CompanyId,
  Contact,
  ContactId,
  CustomValue,
  DealId,
  Lead,
  QualifyLead,
  QualifyPlan,
} from '@kettle/contract';
import { companyKey, nameKey } from '@kettle/core/duplicates';
import { carriedOver } from '@kettle/core/fields';
import { isLive } from '@kettle/core/leads';
import { leadStatusLabel } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { createDeal, readDealRows } from '../deals/index';
import { findSimilarContacts, mergeInside } from '../duplicates/index';
import { findSet, undoSet } from '../../activity/changes/index';
import { readAt, type SignedIn } from '../../records/users/index';
import { readCustomFields, writeCustomValues } from '../../records/fields/index';
import { assertMayChange, reachParameters, withinReach } from '../../records/rights/index';
import { writeSystemEntry } from '../../records/entries/index';
import { companiesOfDomain } from '../../records/companies/index';
import { findOrMakeCompany, moveStanding, readContact, writeCell } from '../../records/contacts/index';
import { lockLead } from './change-lead';
import { readLead } from './lead-rows';
import type { PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** What comes along into the deal: rows about the contact since the lead began that belong to no deal yet. */
const broughtTables = {
  journal_entry: 'at',
  task: 'created_at',
  run: 'created_at',
  stored_file: 'created_at',
  mail: 'at',
} as const;
type BroughtTable = keyof typeof broughtTables;
const tables = Object.keys(broughtTables) as BroughtTable[];

type Brought = Readonly<Record<BroughtTable, readonly IdBytes[]>>;

/** Live tasks and runs come along; so does everything of the journal and every file since the lead began. */
const broughtWhere = (table: BroughtTable) => {
  const since =
    table === 'task'
      ? "state = 'open'"
      : table === 'run'
        ? "status IN ('running', 'paused')"
        : `${broughtTables[table]} >= :since`;
  return `contact_id = :contact AND deal_id IS NULL AND ${since}`;
};

async function readBrought(tx: Queryable, lead: Lead, contactId: string): Promise<Brought> {
  const brought = {} as Record<BroughtTable, IdBytes[]>;
  for (const table of tables) {
    const rows = await tx.rows<{ id: IdBytes }>(
      `SELECT id FROM ${table} WHERE ${broughtWhere(table)} ORDER BY id`,
      {
        contact: bytesOf(contactId),
        since: sqlInstant(lead.createdAt),
      },
    );
    brought[table] = rows.map(({ id }) => id);
  }
  return brought;
}

/** What qualifying needs to know: who and what the lead may already be, and what would come along. Nothing is written. */
export async function planQualify(services: Services, who: SignedIn, id: string): Promise<QualifyPlan> {
  const { database } = services;
  const at = readAt(services, who);
  const lead = await readLead(database, id, at);
  const contact = await readContact(database, lead.contactId);
  const people = await findSimilarContacts(database, who, {
    givenName: contact.givenName,
    familyName: contact.familyName,
    companyName: lead.companyName ?? '',
    email: contact.email ?? '',
    phone: contact.phone ?? '',
    country: contact.country,
    except: contact.id,
  });
  const companies = await findCompanies(database, who, { lead, contact });
  const brought = await readBrought(database, lead, lead.contactId);
  const deals = await readDealRows(
    database,
    `d.status = 'open' AND (d.contact_id = :contact OR d.company_id IN (:companies)) AND ${withinReach(who, 'deal', 'd')}`,
    {
      ...reachParameters(who),
      contact: bytesOf(lead.contactId),
      companies: [...companies.map((each) => bytesOf(each.id)), bytesOf(lead.companyId ?? lead.id)],
    },
    at,
  );
  const carried = await carryOver(database, lead, contact);
  return {
    lead,
    people,
    companies,
    deals,
    brings: {
      entries: brought.journal_entry.length,
      tasks: brought.task.length,
      runs: brought.run.length,
      files: brought.stored_file.length,
      fields: carried.names,
    },
  };
}

interface Carried {
  readonly deal: Readonly<Record<string, CustomValue>>;
  readonly contact: Readonly<Record<string, CustomValue>>;
  readonly names: string[];
}

/** The lead's own fields go on to the deal's of the same name and type; else to the person's, where theirs is empty. */
async function carryOver(db: Queryable, lead: Lead, contact: Contact): Promise<Carried> {
  const fields = await readCustomFields(db, 'lead');
  const dealFields = await readCustomFields(db, 'deal');
  const contactFields = await readCustomFields(db, 'contact');
  const deal = carriedOver(fields, lead.custom, dealFields);
  const taken = new Set(dealFields.filter(({ id }) => id in deal).map(({ name }) => nameKey(name)));
  const free = contactFields.filter(
    ({ id, name }) => !taken.has(nameKey(name)) && (contact.custom[id] ?? null) === null,
  );
  const person = carriedOver(fields, lead.custom, free);
  const names = [...dealFields, ...contactFields]
    .filter(({ id }) => id in deal || id in person)
    .map(({ name }) => name);
  return { deal, contact: person, names };
}

const mostCompanies = 6;

/** Its own company, one of the same name wherever it is, and those whose people write from the same domain. */
async function findCompanies(
  db: Queryable,
  who: SignedIn,
  { lead, contact }: { readonly lead: Lead; readonly contact: Contact },
): Promise<QualifyPlan['companies']> {
  const readable = withinReach(who, 'company', 'co');
  type CompanyRow = Row<'company', 'id' | 'name' | 'city'>;
  const found = new Map<string, QualifyPlan['companies'][number]>();
  const add = (rows: readonly CompanyRow[], why: string) => {
    for (const row of rows) {
      const id = idOf<CompanyId>(row.id);
      if (!found.has(id)) found.set(id, { id, name: row.name, city: row.city, why });
    }
  };
  const columns = 'co.id, co.name, co.city';
  if (lead.companyId !== null)
    add(
      await db.rows<CompanyRow>(`SELECT ${columns} FROM company co WHERE co.id = :id`, {
        id: bytesOf(lead.companyId),
      }),
      $localize`their company`,
    );
  if (lead.companyName)
    add(
      await db.rows<CompanyRow>(
        `SELECT ${columns} FROM company co WHERE co.name_key = :key AND ${readable} ORDER BY co.name, co.id LIMIT ${mostCompanies}`,
        { ...reachParameters(who), key: companyKey(lead.companyName) },
      ),
      $localize`the same name`,
    );
  if (contact.email !== null)
    add(
      await companiesOfDomain(db, who, contact.email),
      $localize`others write from ${contact.email.split('@')[1]!}:domain:`,
    );
  return [...found.values()].slice(0, mostCompanies);
}

/**
 * Makes contact, company and deal of a lead. Everything about the person since the lead began goes to the deal; the deal
 * remembers the lead; what was before is kept, so that it can be undone.
 * @throws Problem `stale`, `not-yours`, `lead-decided`, and what a merge or a new deal refuses
 */
export async function qualifyLead(w: PersonWork, id: string, body: QualifyLead): Promise<void> {
  const lead = await lockLead(w, id);
  // What was shown before it was confirmed rests on all of the lead.
  if (lead.version !== body.version) throw new Problem('stale', {}, { current: lead });
  if (!isLive(lead.status)) throw new Problem('lead-decided', { state: leadStatusLabel[lead.status] });
  const contactId = await uniteWith(w, lead, body.person);
  await placeInCompany(w, await readContact(w, contactId), body.company);
  if (body.standingId !== null) await moveStanding(w, contactId, body.standingId);
  const brought = await readBrought(w, lead, contactId);
  const carried = await carryOver(w, lead, await readContact(w, contactId));
  await writeCustomValues(w, 'contact', contactId, carried.contact);
  const draft = { ...body.deal, contactId, source: lead.source, custom: carried.deal };
  const dealId = await createDeal(w, draft, { leadId: id });
  const after = await readContact(w, contactId);
  await bring(w, brought, dealId, after.companyId);
  await w.change(
    `UPDATE sales_lead SET hand_status = 'qualified', hand_at = :now, deal_id = :deal, follow_up_on = NULL WHERE id = :id`,
    { id: bytesOf(id), deal: bytesOf(dealId), now: sqlInstant(w.now) },
  );
  const words = $localize`Lead qualified: ${lead.subject}:subject: → deal “${body.deal.name}:name:”`;
  await writeSystemEntry(w, {
    body: words,
    contactId,
    companyId: after.companyId,
    dealId,
    userId: w.who.id,
  });
  w.say(words);
}

/** The lead's own person, or one known with whom it is made one; the known one stays. */
async function uniteWith(w: PersonWork, lead: Lead, person: QualifyLead['person']): Promise<ContactId> {
  if (person.kind === 'same' || person.contactId === lead.contactId) return lead.contactId;
  const gone = await readContact(w, lead.contactId);
  await mergeInside(w, {
    keepId: person.contactId,
    keepVersion: person.version,
    goneId: gone.id,
    goneVersion: gone.version,
    take: [],
  });
  return person.contactId;
}

async function placeInCompany(
  w: PersonWork,
  contact: Contact,
  company: QualifyLead['company'],
): Promise<void> {
  if (company.kind === 'none') return;
  if (company.kind === 'known') {
    const [row] = await w.rows<Row<'company', 'name'>>('SELECT name FROM company WHERE id = :id', {
      id: bytesOf(company.companyId),
    });
    if (!row) throw new Problem('not-found');
    await putInto(w, contact, company.companyId, row.name);
    return;
  }
  const { country, zone } = contact;
  const draft = {
    name: company.name,
    city: company.city,
    country,
    zone,
    street: null,
    postcode: null,
    website: null,
  };
  const made = await findOrMakeCompany(w, { ...draft, ownerId: w.who.id });
  await putInto(w, contact, made.id, made.name);
}

/** The name alone could mean another company of that name: the id is written after the change that keeps the journal. */
async function putInto(w: PersonWork, contact: Contact, companyId: CompanyId, name: string): Promise<void> {
  if (contact.companyId === companyId) return;
  await writeCell(w, contact, { field: 'companyName', value: name });
  await w.change('UPDATE contact SET company_id = :company, company_name = :name WHERE id = :id', {
    id: bytesOf(contact.id),
    company: bytesOf(companyId),
    name,
  });
}

/** What was about the person alone is about the company as well from now on. */
async function bring(
  tx: Queryable,
  brought: Brought,
  dealId: DealId,
  companyId: string | null,
): Promise<void> {
  for (const table of tables) {
    const ids = brought[table];
    if (ids.length === 0) continue;
    const firm = withCompany.includes(table) ? ', company_id = COALESCE(company_id, :company)' : '';
    await tx.change(`UPDATE ${table} SET deal_id = :deal${firm} WHERE id IN (:ids)`, {
      deal: bytesOf(dealId),
      company: bytesOf(companyId),
      ids,
    });
  }
}

const withCompany: readonly BroughtTable[] = ['journal_entry', 'task'];

/**
 * Undoes a qualifying: the deal and what was made with it are gone, what came along belongs to the person alone again, as does what
 * happened since; a merge is taken apart.
 * @throws Problem `cannot-undo` when the deal was changed since or an agreement hangs on it, `stale`, `not-yours`
 */
export async function unqualifyLead(services: Services, who: SignedIn, id: string): Promise<Lead> {
  const { database } = services;
  const lead = await readLead(database, id, readAt(services, who));
  await assertMayChange(database, who, lead.ownerId);
  const setId = await findSet(database, { table: 'sales_lead', id, act: 'qualifyLead' });
  if (setId === null || !lead.canUnqualify)
    throw new Problem('cannot-undo', { why: $localize`it is not qualified` });
  await undoSet(services, who, setId);
  return readLead(database, id, readAt(services, who));
}
