import type { ContactId } from '@kettle/contract';
import { updateMany } from '../../platform/database/update-many';
import { bytesOf, idOf } from '../../platform/ids';
import type { Deriver } from '../../platform/work/work';
import { searchText } from './write-contact';
import type { Row } from '../../platform/database/schema.generated';

const fields = ['given_name', 'family_name', 'company_name', 'job_title', 'email', 'phone', 'country'];

type Searched = Row<
  'contact',
  | 'id'
  | 'given_name'
  | 'family_name'
  | 'company_name'
  | 'job_title'
  | 'email'
  | 'phone'
  | 'country'
  | 'search_text'
>;

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
    `SELECT id, given_name, family_name, company_name, job_title, email, phone, country, search_text FROM contact WHERE id IN (:ids) ORDER BY id`,
    about,
  );
  const also = await w.rows<Row<'contact', 'id'> & { text: string }>(
    `SELECT contact_id AS id, value AS text, position, id AS own FROM contact_point WHERE contact_id IN (:ids)
     UNION ALL SELECT l.contact_id, co.name, 1000, co.id FROM contact_company l JOIN company co ON co.id = l.company_id WHERE l.contact_id IN (:ids)
     ORDER BY position, own`,
    about,
  );
  const alsoOf = new Map<string, string[]>();
  for (const { id, text } of also) {
    const key = idOf<ContactId>(id);
    alsoOf.set(key, [...(alsoOf.get(key) ?? []), text]);
  }
  const texts = contacts.map((row) => ({
    id: row.id,
    was: row.search_text,
    search_text: searchText({
      givenName: row.given_name,
      familyName: row.family_name,
      companyName: row.company_name,
      jobTitle: row.job_title,
      email: row.email,
      phone: row.phone,
      country: row.country,
      alsoFoundBy: alsoOf.get(idOf<ContactId>(row.id)) ?? [],
    }),
  }));
  await updateMany(
    w,
    'contact',
    texts
      .filter(({ was, search_text }) => was !== search_text)
      .map(({ id, search_text }) => ({ id, search_text })),
  );
};
