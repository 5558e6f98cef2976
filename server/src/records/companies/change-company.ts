import type { ChangeCompany, Company, SiteId } from '@kettle/contract';
import { companyPlain, type CompanyPlain } from '@kettle/contract/base/catalogues';
import { companyKey } from '@kettle/core/duplicates';
import { differencesOf } from '@kettle/core/fields';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import { customAt, sayCustom, writeCustomValues } from '../fields/index';
import { writeSystemEntry } from '../entries/index';
import { assertMayChange } from '../rights/index';
import { zoneAt } from '../settings/index';
import { mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import { readCompany } from './companies';
import type { PersonWork } from '../../platform/work/work';

/**
 * Changes a company and its sites over the version it was seen at. A new name is copied to its people in the same
 * transaction; people at a site whose zone or country changed get them, unless theirs was put right by hand.
 * @throws Problem `stale`, `already-exists` when another company of that country has the name
 */
export async function changeCompany(w: PersonWork, id: string, asked: ChangeCompany): Promise<void> {
  await w.rows('SELECT 1 FROM company WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const before = await readCompany(w, w.who, id);
  await assertMayChange(w, w.who, before.ownerId);
  const current = asChange(before);
  const sent = await mergeChange(w, { table: 'company', id, fields, asked, record: before, current });
  const body: Whole = { ...current, ...sentOf(sent) };
  const { organisation } = await w.settings();
  const sites = body.sites.map((site) => ({
    ...site,
    zone: site.zone ?? zoneAt(site.country, organisation),
  }));
  await writeMain(w, id, body, sites[0]!);
  await writeSites(w, id, sites.slice(1));
  await copyToPeople(w, id, before, body.name);
  if (body.custom !== undefined) await writeCustomValues(w, 'company', id, body.custom);
  await writeDifference(w, before, await readCompany(w, w.who, id));
}

/** Where the fields of a change are kept, so that two people's changes meet field by field. The main site is in the company's own row. */
const fields: FieldsAt<ChangeCompany> = {
  name: { column: 'name' },
  ...companyPlain.each((_, { column }) => ({ column })),
  sites: { rows: 'site', of: 'company_id' },
  custom: customAt,
};

const asChange = (company: Company) => ({
  name: company.name,
  ...companyPlain.valuesOf(company),
  sites: company.sites,
});

type Whole = Required<Pick<ChangeCompany, 'name' | 'sites' | keyof CompanyPlain>> &
  Pick<ChangeCompany, 'custom'>;

/** A place that was set by hand is of the address it had; asked before the address is another one. */
const sameAddress = ['latitude', 'longitude']
  .map(
    (name) => `${name} = IF(street <=> :street AND postcode <=> :postcode AND city <=> :city, ${name}, NULL)`,
  )
  .join(', ');

type WrittenSite = Whole['sites'][number] & { zone: string };

async function writeMain(tx: Queryable, id: string, body: Whole, main: WrittenSite): Promise<void> {
  const { street, postcode, city, country, zone } = main;
  try {
    await tx.change(
      `UPDATE company SET ${sameAddress}, name = :name, name_key = :key, ${companyPlain.sets}, street = :street,
              postcode = :postcode, city = :city, country = :country, zone = :zone, version = version + 1
        WHERE id = :id`,
      {
        id: bytesOf(id),
        name: body.name,
        key: companyKey(body.name),
        ...companyPlain.write(body),
        street,
        postcode,
        city,
        country,
        zone,
      },
    );
  } catch (error) {
    if (isDuplicateKey(error)) throw new Problem('already-exists', { what: body.name });
    throw error;
  }
}

async function writeSites(tx: Queryable, companyId: string, sites: readonly WrittenSite[]): Promise<void> {
  const kept = sites.flatMap((site) => (site.id === null ? [] : [bytesOf(site.id)]));
  const gone = {
    company: bytesOf(companyId),
    kept: kept.length ? kept : [Buffer.alloc(16)],
  };
  await tx.change(
    `UPDATE contact SET site_id = NULL, version = version + 1
      WHERE company_id = :company AND site_id IS NOT NULL AND site_id NOT IN (:kept)`,
    gone,
  );
  await tx.change('DELETE FROM site WHERE company_id = :company AND id NOT IN (:kept)', gone);
  for (const [position, site] of sites.entries()) {
    const { name, street, postcode, city, country, zone } = site;
    const id = bytesOf(site.id ?? newId<SiteId>());
    await tx.change(
      `INSERT INTO site (id, company_id, name, street, postcode, city, country, zone, position)
       VALUES (:id, :company, :name, :street, :postcode, :city, :country, :zone, :position)
       ON DUPLICATE KEY UPDATE ${sameAddress}, name = :name, street = :street, postcode = :postcode, city = :city, country = :country,
         zone = :zone, position = :position`,
      { id, company: bytesOf(companyId), name, street, postcode, city, country, zone, position },
    );
    await tx.change(
      `UPDATE contact SET country = :country, zone = :zone, version = version + 1
        WHERE site_id = :id AND zone_by_hand = 0 AND (country <> :country OR zone <> :zone)`,
      { id, country, zone },
    );
  }
}

async function copyToPeople(tx: Queryable, id: string, before: Company, name: string): Promise<void> {
  if (before.name === name) return;
  await tx.change(
    `UPDATE contact SET company_name = :name, version = version + 1,
            search_text = LEFT(CONCAT(search_text, ' ', :key), 800)
      WHERE company_id = :id`,
    { id: bytesOf(id), name, key: companyKey(name) },
  );
}

async function writeDifference(w: PersonWork, before: Company, after: Company): Promise<void> {
  const sayOwn = await sayCustom(w, 'company');
  const sayCompany = (company: Company): readonly (readonly [string, string])[] => [
    [$localize`Name`, company.name],
    ...companyPlain.say(company),
    [
      $localize`Sites`,
      company.sites.map((site) => [site.name, site.city, site.country].filter(Boolean).join(' ')).join(', '),
    ],
    ...sayOwn(company.custom),
  ];
  const differences = differencesOf(sayCompany(before), sayCompany(after));
  if (differences.length > 0)
    await writeSystemEntry(w, {
      body: differences.join('; '),
      companyId: after.id,
      userId: w.who.id,
    });
}
