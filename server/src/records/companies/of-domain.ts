import { domainToUnicode } from 'node:url';
import { companyDomain } from '@kettle/core/duplicates';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import type { IdBytes } from '../../platform/ids';
import { likeEnd } from '../grid/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';

const mostCompanies = 6;
/** Rows that end with the domain's letters, and are looked at one by one. */
const mostLooked = 500;

/**
 * Companies whose people write from the firm's domain of an address (any host below it, in either spelling), or whose site is there. A
 * domain from which people of more than two companies write says nothing, and neither does a free-mail service. Relies on contact_email_back
 * and company_host_back.
 */
export async function companiesOfDomain(
  db: Queryable,
  who: SignedIn,
  address: string,
): Promise<Row<'company', 'id' | 'name' | 'city'>[]> {
  const domain = companyDomain(address);
  if (domain === null) return [];
  const [ascii, unicode] = [likeEnd(domain), likeEnd(domainToUnicode(domain))];
  const isThere = (text: string | null) => text !== null && companyDomain(text) === domain;
  const writers = await db.rows<{ email: string; company_id: IdBytes }>(
    `SELECT email, company_id FROM contact
      WHERE (email_back LIKE :ascii OR email_back LIKE :unicode) AND company_id IS NOT NULL LIMIT ${mostLooked}`,
    { ascii, unicode },
  );
  const theirs = new Map(
    writers
      .filter(({ email }) => isThere(email))
      .map(({ company_id: id }) => [id.toString('hex'), id] as const),
  );
  if (theirs.size > 2) return [];
  const found = await db.rows<Row<'company', 'id' | 'name' | 'city' | 'website'>>(
    `SELECT co.id, co.name, co.city, co.website FROM company co
      WHERE (${theirs.size > 0 ? 'co.id IN (:ids) OR ' : ''}co.host_back LIKE :ascii OR co.host_back LIKE :unicode)
        AND ${withinReach(who, 'company', 'co')}
      ORDER BY co.name, co.id LIMIT ${mostLooked}`,
    { ...reachParameters(who), ascii, unicode, ...(theirs.size > 0 && { ids: [...theirs.values()] }) },
  );
  return found
    .filter(({ id, website }) => theirs.has(id.toString('hex')) || isThere(website))
    .slice(0, mostCompanies);
}
