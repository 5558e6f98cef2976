import type {
  CompanyId,
  Contact,
  ContactId,
  DealId,
  Lead,
  MergeId,
  QualifyLead,
  QualifyPlan,
} from '@kettle/contract';
import { companyKey } from '@kettle/core/duplicates';
import { isLive } from '@kettle/core/leads';
import { leadStatusLabel } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { createDeal } from '../deals/create-deal';
import { readDealRows } from '../deals/deal-rows';
import { findLike } from '../duplicates/find-like';
import { mergeInside, undoMergeInside } from '../duplicates/merge';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import { refreshTouchFacts } from '../../activity/touch/touch-facts';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import { writeCell } from '../../records/contacts/change-contact';
import { readContact } from '../../records/contacts/contact-rows';
import { moveStanding } from '../../records/contacts/move-standing';
import { findOrMakeCompany } from '../../records/contacts/write-contact';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { lockLead } from './change-lead';
import { readLead } from './lead-rows';

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

/** As stored, ids as hex: enough to put everything back. */
interface Qualification {
  readonly contactId: ContactId;
  readonly mergeId: MergeId | null;
  readonly companyBefore: { readonly id: string | null; readonly name: string | null };
  readonly companyAfter: string | null;
  readonly madeCompanyId: CompanyId | null;
  readonly standingBefore: { readonly id: string; readonly setAt: string };
  readonly standingAfter: string;
  readonly status: Lead['status'];
  readonly followUpOn: string | null;
  readonly brought: Readonly<Record<BroughtTable, readonly string[]>>;
}

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

async function readBrought(
  tx: Queryable,
  lead: Lead,
  contactId: string,
): Promise<Record<BroughtTable, string[]>> {
  const brought = {} as Record<BroughtTable, string[]>;
  for (const table of tables) {
    const rows = await tx.rows<{ id: IdBytes }>(
      `SELECT id FROM ${table} WHERE ${broughtWhere(table)} ORDER BY id`,
      {
        contact: bytesOf(contactId),
        since: sqlInstant(lead.createdAt),
      },
    );
    brought[table] = rows.map(({ id }) => id.toString('hex'));
  }
  return brought;
}

/** What qualifying needs to know: who and what the lead may already be, and what would come along. Nothing is written. */
export async function planQualify(services: Services, who: SignedIn, id: string): Promise<QualifyPlan> {
  const { database } = services;
  const today = todayOf(services, who);
  const lead = await readLead(database, id, today);
  const contact = await readContact(database, lead.contactId);
  const people = await findLike(database, {
    givenName: contact.givenName,
    familyName: contact.familyName,
    companyName: lead.companyName ?? '',
    email: contact.email ?? '',
    phone: contact.phone ?? '',
    country: contact.country,
    except: contact.id,
  });
  const companies = await findCompanies(database, lead, contact);
  const brought = await readBrought(database, lead, lead.contactId);
  const deals = await readDealRows(
    database,
    "d.status = 'open' AND (d.contact_id = :contact OR d.company_id IN (:companies))",
    {
      contact: bytesOf(lead.contactId),
      companies: [...companies.map((each) => bytesOf(each.id)), bytesOf(lead.companyId ?? lead.id)],
    },
    today,
  );
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
    },
  };
}

const mostCompanies = 6;

/** Its own company, one of the same name wherever it is, and those whose people write from the same domain. */
async function findCompanies(db: Queryable, lead: Lead, contact: Contact): Promise<QualifyPlan['companies']> {
  interface Row {
    id: IdBytes;
    name: string;
    city: string | null;
  }
  const found = new Map<string, QualifyPlan['companies'][number]>();
  const add = (rows: readonly Row[], why: string) => {
    for (const row of rows) {
      const id = idOf<CompanyId>(row.id);
      if (!found.has(id)) found.set(id, { id, name: row.name, city: row.city, why });
    }
  };
  const columns = 'co.id, co.name, co.city';
  if (lead.companyId !== null)
    add(
      await db.rows<Row>(`SELECT ${columns} FROM company co WHERE co.id = :id`, {
        id: bytesOf(lead.companyId),
      }),
      'their company',
    );
  if (lead.companyName)
    add(
      await db.rows<Row>(
        `SELECT ${columns} FROM company co WHERE co.name_key = :key ORDER BY co.name, co.id LIMIT ${mostCompanies}`,
        {
          key: companyKey(lead.companyName),
        },
      ),
      'the same name',
    );
  const domain = contact.email?.split('@')[1] ?? '';
  if (domain !== '' && !(await isSharedDomain(db, domain)))
    add(
      await db.rows<Row>(
        `SELECT DISTINCT ${columns} FROM contact c JOIN company co ON co.id = c.company_id
          WHERE c.email LIKE :domain ORDER BY co.name, co.id LIMIT ${mostCompanies}`,
        { domain: `%@${domain.replace(/[\\%_]/g, '\\$&')}` },
      ),
      `others write from ${domain}`,
    );
  return [...found.values()].slice(0, mostCompanies);
}

/** A domain that people of several companies write from says nothing about the company. */
async function isSharedDomain(db: Queryable, domain: string): Promise<boolean> {
  const rows = await db.rows(
    'SELECT DISTINCT company_id FROM contact WHERE email LIKE :domain AND company_id IS NOT NULL LIMIT 3',
    { domain: `%@${domain.replace(/[\\%_]/g, '\\$&')}` },
  );
  return rows.length > 2;
}

/**
 * Makes contact, company and deal of a lead. Everything about the person since the lead began goes to the deal; the deal
 * remembers the lead; what was before is kept, so that it can be taken back.
 * @throws Problem `stale`, `not-yours`, `lead-decided`, and what a merge or a new deal refuses
 */
export async function qualifyLead(
  services: Services,
  who: SignedIn,
  id: string,
  body: QualifyLead,
): Promise<Lead> {
  const { database, clock, feed } = services;
  await database.transaction(async (tx) => {
    const now = clock.now();
    const lead = await lockLead(tx, services, who, { id, version: body.version });
    if (!isLive(lead.status)) throw new Problem('lead-decided', { state: leadStatusLabel[lead.status] });
    const { contactId, mergeId } = await uniteWith(tx, services, who, lead, body.person);
    const before = await readContact(tx, contactId);
    const made = await placeInCompany(tx, services, who, before, body.company, now);
    if (body.standingId !== null && (await moveStanding(tx, who, contactId, body.standingId, now)) !== null)
      await refreshTouchFacts(tx, services, await services.settings.read(tx), contactId);
    const brought = await readBrought(tx, lead, contactId);
    const dealId = await createDeal(
      tx,
      services,
      who,
      { ...body.deal, contactId, source: lead.source },
      { leadId: id },
    );
    const after = await readContact(tx, contactId);
    await bring(tx, brought, dealId, after.companyId);
    const state: Qualification = {
      contactId,
      mergeId,
      companyBefore: { id: before.companyId, name: before.companyName },
      companyAfter: after.companyId,
      madeCompanyId: made,
      standingBefore: await standingOf(tx, before),
      standingAfter: after.standingId,
      status: lead.status,
      followUpOn: lead.followUpOn,
      brought,
    };
    await tx.change(
      'INSERT INTO qualification (id, lead_id, deal_id, user_id, state, at) VALUES (:id, :lead, :deal, :user, :state, :now)',
      {
        id: bytesOf(newId()),
        lead: bytesOf(id),
        deal: bytesOf(dealId),
        user: bytesOf(who.id),
        state: JSON.stringify(state),
        now: sqlInstant(now),
      },
    );
    await tx.change(
      `UPDATE sales_lead SET status = 'qualified', hand_status = 'qualified', hand_at = :now, status_since = :now, deal_id = :deal,
              follow_up_on = NULL WHERE id = :id`,
      { id: bytesOf(id), deal: bytesOf(dealId), now: sqlInstant(now) },
    );
    const words = `Lead qualified: ${lead.subject} → deal “${body.deal.name}”`;
    await writeSystemEntry(tx, {
      body: words,
      contactId,
      companyId: after.companyId,
      dealId,
      userId: who.id,
      now,
    });
    await refreshNextSteps(tx, { contactIds: [contactId], dealIds: [dealId] }, now);
    await noteChange(tx, 'lead', id, who.id);
    await noteChange(tx, 'contact', contactId, who.id);
  });
  feed.poke();
  return readLead(database, id, todayOf(services, who));
}

/** The lead's own person, or one known with whom it is made one; the known one stays. */
async function uniteWith(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  lead: Lead,
  person: QualifyLead['person'],
): Promise<{ contactId: ContactId; mergeId: MergeId | null }> {
  if (person.kind === 'same' || person.contactId === lead.contactId)
    return { contactId: lead.contactId, mergeId: null };
  const gone = await readContact(tx, lead.contactId);
  const mergeId = await mergeInside(tx, services, who, {
    keepId: person.contactId,
    keepVersion: person.version,
    goneId: gone.id,
    goneVersion: gone.version,
    take: [],
  });
  return { contactId: person.contactId, mergeId };
}

/** Returns the company that had to be made, if any. */
async function placeInCompany(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  contact: Contact,
  company: QualifyLead['company'],
  now: string,
): Promise<CompanyId | null> {
  if (company.kind === 'none') return null;
  if (company.kind === 'known') {
    const [row] = await tx.rows<{ name: string }>('SELECT name FROM company WHERE id = :id', {
      id: bytesOf(company.companyId),
    });
    if (!row) throw new Problem('not-found');
    await putInto(tx, services, who, contact, company.companyId, row.name);
    return null;
  }
  const known = await tx.rows('SELECT 1 FROM company WHERE name_key = :key AND country = :country', {
    key: companyKey(company.name),
    country: contact.country,
  });
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
  const made = await findOrMakeCompany(tx, { ...draft, ownerId: who.id }, now);
  await putInto(tx, services, who, contact, made.id, made.name);
  return known.length > 0 ? null : made.id;
}

/** The name alone could mean another company of that name: the id is written after the change that keeps the journal. */
async function putInto(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  contact: Contact,
  companyId: CompanyId,
  name: string,
): Promise<void> {
  if (contact.companyId === companyId) return;
  await writeCell(tx, services, who, contact, { field: 'companyName', value: name });
  await tx.change('UPDATE contact SET company_id = :company, company_name = :name WHERE id = :id', {
    id: bytesOf(contact.id),
    company: bytesOf(companyId),
    name,
  });
}

async function standingOf(tx: Queryable, contact: Contact): Promise<Qualification['standingBefore']> {
  const [row] = await tx.rows<{ standing_set_at: string }>(
    'SELECT standing_set_at FROM contact WHERE id = :id',
    {
      id: bytesOf(contact.id),
    },
  );
  return { id: contact.standingId, setAt: row?.standing_set_at ?? '' };
}

/** What was about the person alone is about the company as well from now on. */
async function bring(
  tx: Queryable,
  brought: Qualification['brought'],
  dealId: DealId,
  companyId: string | null,
): Promise<void> {
  for (const table of tables) {
    const ids = brought[table].map((hex) => Buffer.from(hex, 'hex'));
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
 * Takes a qualifying back while its deal is open: the deal goes, what came along belongs to the person alone again, as does
 * what happened since; tasks the deal was made with are withdrawn, the company that was made goes if nobody else is in it,
 * a merge is taken apart.
 * @throws Problem `cannot-undo` when the deal was closed or an agreement hangs on it, `stale`, `not-yours`
 */
export async function unqualifyLead(
  services: Services,
  who: SignedIn,
  id: string,
  version: number,
): Promise<Lead> {
  const { database, clock, feed } = services;
  await database.transaction(async (tx) => {
    const now = clock.now();
    const lead = await lockLead(tx, services, who, { id, version });
    const [row] = await tx.rows<{ id: IdBytes; deal_id: IdBytes; state: string }>(
      'SELECT id, deal_id, state FROM qualification WHERE lead_id = :lead AND undone_at IS NULL ORDER BY at DESC LIMIT 1 FOR UPDATE',
      { lead: bytesOf(id) },
    );
    if (!row || !lead.canUnqualify) throw new Problem('cannot-undo');
    const state = jsonOf(row.state) as Qualification;
    await removeDeal(tx, row.deal_id, state, now);
    await restoreContact(tx, state);
    await tx.change('UPDATE qualification SET undone_at = :now WHERE id = :id', {
      id: row.id,
      now: sqlInstant(now),
    });
    await tx.change(
      `UPDATE sales_lead SET status = :status, hand_status = :status, hand_at = :now, status_since = :now, deal_id = NULL,
              follow_up_on = :followUpOn WHERE id = :id`,
      { id: bytesOf(id), status: state.status, followUpOn: state.followUpOn, now: sqlInstant(now) },
    );
    await writeSystemEntry(tx, {
      body: `Qualifying taken back: ${lead.subject}`,
      contactId: state.contactId,
      userId: who.id,
      now,
    });
    await refreshNextSteps(tx, { contactIds: [state.contactId], dealIds: [] }, now);
    if (state.mergeId !== null) await undoMergeInside(tx, services, who, state.mergeId);
    await noteChange(tx, 'lead', id, who.id);
    await noteChange(tx, 'deal', idOf(row.deal_id), who.id);
    await noteChange(tx, 'contact', state.contactId, who.id);
  });
  feed.poke();
  return readLead(database, id, todayOf(services, who));
}

async function removeDeal(tx: Queryable, deal: Buffer, state: Qualification, now: string): Promise<void> {
  const [bound] = await tx.rows<{ agreements: string; children: string }>(
    `SELECT (SELECT COUNT(*) FROM agreement WHERE deal_id = :deal) AS agreements,
            (SELECT COUNT(*) FROM deal WHERE parent_id = :deal) AS children`,
    { deal },
  );
  if (wholeNumber(bound?.agreements ?? 0) + wholeNumber(bound?.children ?? 0) > 0)
    throw new Problem('cannot-undo');
  const came = state.brought.task.map((hex) => Buffer.from(hex, 'hex'));
  // What the deal was made with has lost its purpose; what came along, or was planned since by hand, stands.
  await tx.change(
    `UPDATE task SET state = 'dropped', drop_reason = 'the qualifying was taken back', finished_at = :now, version = version + 1
      WHERE deal_id = :deal AND state = 'open' AND version = 1 AND id NOT IN (:came)
        AND created_at <= (SELECT created_at FROM deal WHERE id = :deal)`,
    { deal, now: sqlInstant(now), came: came.length > 0 ? came : [deal] },
  );
  if (state.companyBefore.id === null)
    for (const table of withCompany) {
      const ids = state.brought[table].map((hex) => Buffer.from(hex, 'hex'));
      if (ids.length > 0)
        await tx.change(
          `UPDATE ${table} SET company_id = NULL WHERE id IN (:ids) AND company_id <=> :after`,
          {
            ids,
            after: bytesOf(state.companyAfter),
          },
        );
    }
  for (const table of ['journal_entry', 'task', 'run', 'stored_file', 'mail', 'stirring'])
    await tx.change(`UPDATE ${table} SET deal_id = NULL WHERE deal_id = :deal`, { deal });
  await tx.change('DELETE FROM deal WHERE id = :deal', { deal });
}

/** Company and standing go back where they still are as qualifying left them. */
async function restoreContact(tx: Queryable, state: Qualification): Promise<void> {
  const id = bytesOf(state.contactId);
  await tx.change(
    `UPDATE contact SET company_id = :company, company_name = :name, version = version + 1
      WHERE id = :id AND company_id <=> :after`,
    {
      id,
      company: bytesOf(state.companyBefore.id),
      name: state.companyBefore.name,
      after: bytesOf(state.companyAfter),
    },
  );
  await tx.change(
    'UPDATE contact SET standing_id = :standing, standing_set_at = :setAt WHERE id = :id AND standing_id = :after',
    {
      id,
      standing: bytesOf(state.standingBefore.id),
      setAt: state.standingBefore.setAt,
      after: bytesOf(state.standingAfter),
    },
  );
  if (state.madeCompanyId === null) return;
  await tx.change(
    `DELETE FROM company WHERE id = :company AND version = 1
        AND NOT EXISTS (SELECT 1 FROM contact c WHERE c.company_id = company.id)
        AND NOT EXISTS (SELECT 1 FROM contact_company l WHERE l.company_id = company.id)
        AND NOT EXISTS (SELECT 1 FROM deal d WHERE d.company_id = company.id)
        AND NOT EXISTS (SELECT 1 FROM agreement a WHERE a.company_id = company.id)`,
    { company: bytesOf(state.madeCompanyId) },
  );
}
