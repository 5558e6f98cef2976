import type { ContactId } from '@kettle/contract';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Deriver } from '../../platform/work/work';
import { searchText } from './write-contact';

const fields = ['given_name', 'family_name', 'company_name', 'job_title', 'email', 'phone', 'country'];

interface Searched {
  id: IdBytes;
  given_name: string;
  family_name: string;
  company_name: string | null;
  job_title: string | null;
  email: string | null;
  phone: string | null;
  country: string;
}

/** The words quick search finds a contact by, when a name, an address, a number or a company of theirs was written. */
export const deriveSearchText: Deriver = async (w, written) => {
  const changed = written.ids('contact', 'id', fields);
  const ids = [
    ...new Set([
      ...changed,
      ...written.ids('contact_point', 'contact_id'),
      ...written.ids('contact_company', 'contact_id'),
    ]),
  ];
  if (ids.length === 0) return;
  const about = { ids: ids.map((id) => bytesOf(id)) };
  const contacts = await w.rows<Searched>(
    `SELECT id, given_name, family_name, company_name, job_title, email, phone, country FROM contact WHERE id IN (:ids) ORDER BY id`,
    about,
  );
  const also = await w.rows<{ id: IdBytes; text: string }>(
    `SELECT contact_id AS id, value AS text, position, id AS own FROM contact_point WHERE contact_id IN (:ids)
     UNION ALL SELECT l.contact_id, co.name, 1000, co.id FROM contact_company l JOIN company co ON co.id = l.company_id WHERE l.contact_id IN (:ids)
     ORDER BY position, own`,
    about,
  );
  for (const row of contacts) {
    const id = idOf<ContactId>(row.id);
    const alsoFoundBy = also.filter((each) => each.id.equals(row.id)).map(({ text }) => text);
    await w.change('UPDATE contact SET search_text = :text WHERE id = :id', {
      id: bytesOf(id),
      text: searchText({
        givenName: row.given_name,
        familyName: row.family_name,
        companyName: row.company_name,
        jobTitle: row.job_title,
        email: row.email,
        phone: row.phone,
        country: row.country,
        alsoFoundBy,
      }),
    });
  }
};
