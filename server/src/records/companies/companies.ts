import type { Company, CompanyRow, Site, SiteId, UserId } from '@kettle/contract';
import { companyPlain, type CompanyPlainColumns } from '@kettle/contract/base/catalogues';
import type { Queryable } from '../../platform/database/database';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { readCustomValues } from '../fields/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import type { Row } from '../../platform/database/schema.generated';

interface CompanyColumns extends Row<
  'company',
  'id' | 'name' | 'trade' | 'website' | 'city' | 'country' | 'owner_id' | 'archived_at' | 'version'
> {
  owner_name: string | null;
  people: string;
  open_deals: string;
  open_value: string | null;
  last_touch_at: string | null;
}

/** What a company has, of what its reader may read. Its parameters are those of `reachParameters`. */
export const companySums = (who: SignedIn) => ({
  people: `((SELECT COUNT(*) FROM contact c WHERE c.company_id = co.id AND c.archived_at IS NULL AND ${withinReach(who, 'contact', 'c')})
    + (SELECT COUNT(*) FROM contact_company l JOIN contact lc ON lc.id = l.contact_id AND lc.archived_at IS NULL
        WHERE l.company_id = co.id AND ${withinReach(who, 'contact', 'lc')}))`,
  lastTouch: `(SELECT MAX(c.last_touch_at) FROM contact c WHERE c.company_id = co.id AND ${withinReach(who, 'contact', 'c')})`,
  openDeals: `(SELECT COUNT(*) FROM deal d WHERE d.company_id = co.id AND d.status = 'open' AND d.archived_at IS NULL AND ${withinReach(who, 'deal', 'd')})`,
  openValue: `(SELECT SUM(d.home_minor) FROM deal d WHERE d.company_id = co.id AND d.status = 'open' AND d.archived_at IS NULL AND ${withinReach(who, 'deal', 'd')})`,
});

/** List rows of companies, in the order of their ids. */
export async function readCompanyRows(
  db: Queryable,
  who: SignedIn,
  ids: readonly IdBytes[],
): Promise<CompanyRow[]> {
  if (ids.length === 0) return [];
  const sums = companySums(who);
  const [rows, custom] = await Promise.all([
    db.rows<CompanyColumns>(
      `SELECT co.id, co.name, co.trade, co.website, co.city, co.country, co.owner_id, u.name AS owner_name, co.archived_at,
              co.version, ${sums.people} AS people, ${sums.lastTouch} AS last_touch_at, ${sums.openDeals} AS open_deals,
              ${sums.openValue} AS open_value
         FROM company co LEFT JOIN app_user u ON u.id = co.owner_id WHERE co.id IN (:ids)`,
      { ...reachParameters(who), ids: [...ids] },
    ),
    readCustomValues(db, ids),
  ]);
  const found = new Map(
    rows.map((row): [string, CompanyRow] => [
      row.id.toString('hex'),
      {
        id: idOf(row.id),
        name: row.name,
        trade: row.trade,
        city: row.city,
        country: row.country,
        website: row.website,
        ownerId: idOrNull<UserId>(row.owner_id),
        ownerName: row.owner_name,
        people: wholeNumber(row.people),
        openDeals: wholeNumber(row.open_deals),
        openValueMinor: wholeNumber(row.open_value),
        lastTouchAt: instantOrNull(row.last_touch_at),
        archivedAt: instantOrNull(row.archived_at),
        custom: custom.get(row.id.toString('hex')) ?? {},
        version: row.version,
      },
    ]),
  );
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

type FurtherColumns = Row<'company', 'street' | 'postcode' | 'zone'> & CompanyPlainColumns;

type SiteColumns = Omit<Site, 'id'> & Row<'site', 'id'>;

/** One company with its sites, the main one first. @throws Problem `not-found` */
export async function readCompany(db: Queryable, who: SignedIn, id: string): Promise<Company> {
  const key = { id: bytesOf(id) };
  const [row] = await readCompanyRows(db, who, [key.id]);
  const [further] = await db.rows<FurtherColumns>(
    `SELECT ${companyPlain.select('co')}, co.street, co.postcode, co.zone FROM company co WHERE co.id = :id`,
    key,
  );
  if (!row || !further) throw new Problem('not-found');
  const sites = await db.rows<SiteColumns>(
    `SELECT id, name, street, postcode, city, country, zone FROM site
      WHERE company_id = :id ORDER BY position, id`,
    key,
  );
  const { street, postcode, zone } = further;
  return {
    ...row,
    ...companyPlain.read(further),
    sites: [
      { id: null, name: $localize`Main site`, street, postcode, city: row.city, country: row.country, zone },
      ...sites.map((site) => ({ ...site, id: idOf<SiteId>(site.id) })),
    ],
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
