import type { Company, CompanyRow, Site, SiteId, UserId } from '@kettle/contract';
import { companyPlain, type CompanyPlainColumns } from '@kettle/contract/base/catalogues';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { readCustomValues } from '../contacts/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import type { Row } from '../../platform/database/schema.generated';

interface CompanyColumns extends Row<
  'company',
  'id' | 'name' | 'trade' | 'city' | 'country' | 'archived_at' | 'version'
> {
  owner_name: string | null;
  people: string;
  open_deals: string;
  open_value: string | null;
  last_touch_at: string | null;
}

/** List rows of companies, by name. */
export async function readCompanyRows(
  db: Queryable,
  who: SignedIn,
  { where, parameters, limit }: { where: string; parameters: SqlParameters; limit: number },
): Promise<CompanyRow[]> {
  const isMine = (kind: 'contact' | 'deal', alias: string) => withinReach(who, kind, alias);
  const rows = await db.rows<CompanyColumns>(
    `SELECT co.id, co.name, co.trade, co.city, co.country, u.name AS owner_name, co.archived_at, co.version,
            (SELECT COUNT(*) FROM contact c WHERE c.company_id = co.id AND c.archived_at IS NULL AND ${isMine('contact', 'c')})
              + (SELECT COUNT(*) FROM contact_company l JOIN contact lc ON lc.id = l.contact_id AND lc.archived_at IS NULL
                  WHERE l.company_id = co.id AND ${isMine('contact', 'lc')}) AS people,
            (SELECT MAX(c.last_touch_at) FROM contact c WHERE c.company_id = co.id AND ${isMine('contact', 'c')}) AS last_touch_at,
            (SELECT COUNT(*) FROM deal d WHERE d.company_id = co.id AND d.status = 'open' AND ${isMine('deal', 'd')}) AS open_deals,
            (SELECT SUM(d.home_minor) FROM deal d WHERE d.company_id = co.id AND d.status = 'open' AND ${isMine('deal', 'd')}) AS open_value
       FROM company co LEFT JOIN app_user u ON u.id = co.owner_id ${where}
      ORDER BY co.name, co.id LIMIT ${limit}`,
    { ...reachParameters(who), ...parameters },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    trade: row.trade,
    city: row.city,
    country: row.country,
    ownerName: row.owner_name,
    people: wholeNumber(row.people),
    openDeals: wholeNumber(row.open_deals),
    openValueMinor: wholeNumber(row.open_value),
    lastTouchAt: instantOrNull(row.last_touch_at),
    archivedAt: instantOrNull(row.archived_at),
    version: row.version,
  }));
}

type FurtherColumns = Row<'company', 'owner_id' | 'street' | 'postcode' | 'zone'> & CompanyPlainColumns;

type SiteColumns = Omit<Site, 'id'> & Row<'site', 'id'>;

/** One company with its sites, the main one first. @throws Problem `not-found` */
export async function readCompany(db: Queryable, who: SignedIn, id: string): Promise<Company> {
  const key = { id: bytesOf(id) };
  const [row] = await readCompanyRows(db, who, { where: 'WHERE co.id = :id', parameters: key, limit: 1 });
  const [further] = await db.rows<FurtherColumns>(
    `SELECT ${companyPlain.select('co')}, co.owner_id, co.street, co.postcode, co.zone FROM company co WHERE co.id = :id`,
    key,
  );
  if (!row || !further) throw new Problem('not-found');
  const sites = await db.rows<SiteColumns>(
    `SELECT id, name, street, postcode, city, country, zone FROM site
      WHERE company_id = :id ORDER BY position, id`,
    key,
  );
  const custom = await readCustomValues(db, [key.id]);
  const { street, postcode, zone } = further;
  return {
    ...row,
    ...companyPlain.read(further),
    ownerId: idOrNull<UserId>(further.owner_id),
    sites: [
      { id: null, name: 'Main site', street, postcode, city: row.city, country: row.country, zone },
      ...sites.map((site) => ({ ...site, id: idOf<SiteId>(site.id) })),
    ],
    custom: custom.get(key.id.toString('hex')) ?? {},
  };
}

/** Ids of whoever belongs to a company, mainly or beside another, without the archived ones. Relies on contact_company and link_company. */
export async function readPeopleOf(db: Queryable, who: SignedIn, companyId: string): Promise<Buffer[]> {
  const rows = await db.rows<Row<'contact', 'id'>>(
    `SELECT c.id FROM contact c WHERE c.archived_at IS NULL AND (c.company_id = :id
         OR c.id IN (SELECT l.contact_id FROM contact_company l WHERE l.company_id = :id))
        AND ${withinReach(who, 'contact', 'c')}
      ORDER BY c.sort_name, c.id LIMIT 300`,
    { ...reachParameters(who), id: bytesOf(companyId) },
  );
  return rows.map((row) => row.id);
}
