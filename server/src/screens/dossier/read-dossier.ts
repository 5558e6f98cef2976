import type { ContactId, Dossier, DossierPart, getDossier } from '@kettle/contract';
import type * as z from 'zod';
import { readJournal } from '../../activity/journal/index';
import { openTasks } from '../../activity/tasks/index';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readDeal } from '../../processes/deals/index';
import { readLead } from '../../processes/leads/index';
import { readCompany } from '../../records/companies/index';
import { contactIdOf, readContact } from '../../records/contacts/index';
import { assertReadable, isLimited, reachParameters, withinReach } from '../../records/rights/index';
import { readAt, type SignedIn } from '../../records/users/index';

type About = z.output<typeof getDossier>;
type Record = NonNullable<Dossier['record']>;
type Named = Pick<Record, 'lead' | 'deal' | 'contact' | 'company'>;

const journalEntries = 30;

/**
 * What a dossier shows first, in one reading: everything that depends on nothing else goes to the database in one call. A deal's or lead's
 * person takes a second.
 * @throws Problem `not-found`
 */
export async function readDossier(services: Services, who: SignedIn, asked: About): Promise<Dossier> {
  const { database } = services;
  const read = (about: About) => database.together((db) => readParts(db, services, who, about));
  try {
    return await read(asked);
  } catch (error) {
    if (asked.contactId === undefined || !(error instanceof Problem) || error.code !== 'not-found')
      throw error;
    // Whoever was merged away is shown as whom they became.
    const contactId = (await contactIdOf(database, asked.contactId)) as ContactId;
    if (contactId === asked.contactId) throw error;
    await assertReadable(database, who, contactId, ['contact']);
    return read({ ...asked, contactId });
  }
}

async function readParts(db: Queryable, services: Services, who: SignedIn, asked: About): Promise<Dossier> {
  const { contactId, companyId, dealId, leadId } = asked;
  if (leadId !== undefined) {
    const lead = await readLead(db, leadId, readAt(services, who));
    const of = await readParts(db, services, who, { ...asked, leadId: undefined, contactId: lead.contactId });
    return of.record === undefined ? of : { ...of, record: { ...of.record, lead } };
  }
  const isAsked = (part: DossierPart) => asked.parts.includes(part);
  const [record, steps, journal] = await Promise.all([
    isAsked('record') ? readRecord(db, services, who, asked) : undefined,
    isAsked('steps') ? (companyId === undefined ? openTasks(db, { contactId, dealId }) : []) : undefined,
    isAsked('journal')
      ? readJournal(db, { contactId, companyId, dealId, limit: journalEntries }, who.zone)
      : undefined,
  ]);
  return {
    ...(record !== undefined && { record }),
    ...(steps !== undefined && { steps }),
    ...(journal !== undefined && { journal }),
  };
}

async function readRecord(
  db: Queryable,
  services: Services,
  who: SignedIn,
  { contactId, companyId, dealId }: About,
): Promise<Record> {
  const none: Named = { lead: null, deal: null, contact: null, company: null };
  if (companyId !== undefined) {
    const [company, counts] = await Promise.all([
      readCompany(db, who, companyId),
      countOfCompany(db, who, companyId),
    ]);
    return { ...none, company, counts: { ...counts, people: company.people } };
  }
  if (dealId !== undefined) {
    const deal = await readDeal(db, dealId, readAt(services, who));
    const personId = deal.contactId;
    const isSeen =
      personId !== null &&
      (await assertReadable(db, who, personId, ['contact']).then(
        () => true,
        () => false,
      ));
    if (!isSeen) return { ...none, deal, counts: { people: 0, deals: 1, agreements: 0, runs: 0 } };
    const [contact, counts] = await Promise.all([
      readContact(db, personId),
      countOfPerson(db, who, personId),
    ]);
    return { ...none, deal, contact, counts };
  }
  const id = contactId ?? '';
  const [contact, counts] = await Promise.all([readContact(db, id), countOfPerson(db, who, id)]);
  return { ...none, contact, counts };
}

type Counts = Record['counts'];

/**
 * Deals with a person, in which they have a role, or of their company; agreements of their company, or of theirs if they have none; their
 * runs. Relies on deal_contact, deal_person_contact, deal_company, agreement_company, agreement_contact and run_contact.
 */
async function countOfPerson(db: Queryable, who: SignedIn, id: string): Promise<Counts> {
  const [row] = await db.rows<{ [Name in keyof Counts]: string }>(
    `SELECT 0 AS people,
       (SELECT COUNT(*) FROM (SELECT id FROM deal WHERE contact_id = :id AND archived_at IS NULL
          UNION SELECT p.deal_id FROM deal_person p JOIN deal e ON e.id = p.deal_id AND e.archived_at IS NULL WHERE p.contact_id = :id
          UNION SELECT e.id FROM deal e JOIN contact k ON k.company_id = e.company_id WHERE k.id = :id) AS near
         ${isLimited(who, 'deal', 'reads') ? `JOIN deal d ON d.id = near.id WHERE ${withinReach(who, 'deal', 'd')}` : ''}) AS deals,
       IF(c.company_id IS NULL,
         (SELECT COUNT(*) FROM agreement a WHERE a.contact_id = c.id AND ${withinReach(who, 'agreement', 'a')}),
         (SELECT COUNT(*) FROM agreement a WHERE a.company_id = c.company_id AND ${withinReach(who, 'agreement', 'a')})) AS agreements,
       (SELECT COUNT(*) FROM run r WHERE r.contact_id = c.id) AS runs
     FROM contact c WHERE c.id = :id`,
    { ...reachParameters(who), id: bytesOf(id) },
  );
  return countsOf(row);
}

async function countOfCompany(db: Queryable, who: SignedIn, id: string): Promise<Counts> {
  const [row] = await db.rows<{ [Name in keyof Counts]: string }>(
    `SELECT 0 AS people, 0 AS runs,
       (SELECT COUNT(*) FROM deal d WHERE d.company_id = :id AND ${withinReach(who, 'deal', 'd')}) AS deals,
       (SELECT COUNT(*) FROM agreement a WHERE a.company_id = :id AND ${withinReach(who, 'agreement', 'a')}) AS agreements`,
    { ...reachParameters(who), id: bytesOf(id) },
  );
  return countsOf(row);
}

const countsOf = (row: { readonly [Name in keyof Counts]: string } | undefined): Counts => ({
  people: Number(row?.people ?? 0),
  deals: Number(row?.deals ?? 0),
  agreements: Number(row?.agreements ?? 0),
  runs: Number(row?.runs ?? 0),
});
