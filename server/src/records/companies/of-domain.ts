import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';

const mostCompanies = 6;

/**
 * Companies whose people write from the domain of an address, or whose site is there. A domain from which people of more than two
 * companies write says nothing.
 */
export async function companiesOfDomain(
  db: Queryable,
  who: SignedIn,
  address: string,
): Promise<Row<'company', 'id' | 'name' | 'city'>[]> {
  const domain = address.split('@')[1] ?? '';
  if (domain === '') return [];
  const like = domain.replace(/[\\%_]/g, '\\$&');
  const theirs = await db.rows(
    'SELECT DISTINCT company_id FROM contact WHERE email LIKE :domain AND company_id IS NOT NULL LIMIT 3',
    { domain: `%@${like}` },
  );
  if (theirs.length > 2) return [];
  return db.rows<Row<'company', 'id' | 'name' | 'city'>>(
    `SELECT DISTINCT co.id, co.name, co.city FROM company co LEFT JOIN contact c ON c.company_id = co.id
      WHERE (c.email LIKE :domain OR co.website LIKE :site) AND ${withinReach(who, 'company', 'co')}
      ORDER BY co.name, co.id LIMIT ${mostCompanies}`,
    { ...reachParameters(who), domain: `%@${like}`, site: `%${like}%` },
  );
}
