import { changeCompany as changeBody, type CustomValue } from '@kettle/contract';
import { companyPlain, type CompanyPlainColumns } from '@kettle/contract/base/catalogues';
import { companyKey } from '@kettle/core/duplicates';
import type { RecordDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { idOrNull } from '../../../platform/ids';
import type { PersonWork } from '../../../platform/work/work';
import { changeCompany, readCompany } from '../../../records/companies/index';
import { findOrMakeCompany } from '../../../records/contacts/index';
import { readCustomValues } from '../../../records/fields/index';
import { zoneAt } from '../../../records/settings/index';
import type { Reading } from '../file-kind';
import {
  customNow,
  customOf,
  noCustom,
  textOf,
  textOrNull,
  type Found,
  type RecordDef,
  type Values,
} from './record-kind';

type CompanyRow = Row<
  'company',
  'id' | 'name' | 'name_key' | 'street' | 'postcode' | 'city' | 'country' | 'owner_id'
> &
  CompanyPlainColumns & { owner_name: string | null };

const atOnce = 1000;
const placeKeys = ['street', 'postcode', 'city', 'country'] as const;

/** Companies, told apart by name and country; where the row has no country, by name. */
export const companies: RecordDef = {
  shown: ['name', 'trade', 'city', 'country'],
  sameAs: (values) => `${companyKey(textOf(values, 'name'))}|${textOf(values, 'country')}`,
  find: findCompanies,
  make: async (w, values) => {
    const { organisation } = await w.settings();
    const country = textOf(values, 'country') || organisation.homeCountry;
    const made = await findOrMakeCompany(w, {
      ...{ name: textOf(values, 'name'), country, zone: zoneAt(country, organisation), ownerId: w.who.id },
      ...{ city: textOrNull(values, 'city'), street: textOrNull(values, 'street') },
      ...{ postcode: textOrNull(values, 'postcode'), website: textOrNull(values, 'website') },
    });
    const further = Object.fromEntries(
      Object.entries(values).filter(([key]) => key.startsWith('custom:') || ['trade', 'about'].includes(key)),
    );
    if (Object.keys(further).length > 0) await change(w, made.id, further);
  },
  change,
};

async function findCompanies(
  { db }: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const keys = [...new Set(drafts.map(({ values }) => companyKey(textOf(values, 'name'))))];
  const rows: CompanyRow[] = [];
  for (let from = 0; from < keys.length; from += atOnce)
    rows.push(
      ...(await db.rows<CompanyRow>(
        `SELECT co.id, co.name, co.name_key, co.street, co.postcode, co.city, co.country, co.owner_id, u.name AS owner_name,
                ${companyPlain.select('co')}
           FROM company co LEFT JOIN app_user u ON u.id = co.owner_id WHERE co.name_key IN (:keys) ORDER BY co.name_key, co.country`,
        { keys: keys.slice(from, from + atOnce) },
      )),
    );
  const custom =
    rows.length === 0
      ? new Map<string, Record<string, CustomValue>>()
      : await readCustomValues(
          db,
          rows.map(({ id }) => id),
        );
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const key = companyKey(textOf(values, 'name'));
    const country = textOf(values, 'country');
    const fits = rows.filter((row) => row.name_key === key && (country === '' || row.country === country));
    const [row] = fits;
    if (row === undefined) continue;
    if (fits.length > 1) {
      const reason = $localize`${row.name}:name: is here in ${fits.length}:count: countries; say which`;
      found.set(line, { problem: { column: 'country', reason } });
      continue;
    }
    found.set(line, {
      record: {
        ...{ id: row.id, name: row.name, ownerId: idOrNull<string>(row.owner_id), ownerName: row.owner_name },
        now: {
          ...companyPlain.read(row),
          ...{ street: row.street, postcode: row.postcode, city: row.city },
          ...noCustom(values),
          ...customNow(custom.get(row.id.toString('hex')) ?? {}),
        },
      },
    });
  }
  return found;
}

async function change(w: PersonWork, id: string, values: Values): Promise<void> {
  const { version, sites } = await readCompany(w, w.who, id);
  const [main, ...others] = sites;
  const place = Object.fromEntries(
    placeKeys.flatMap((key) => (textOf(values, key) === '' ? [] : [[key, textOf(values, key)]])),
  );
  await changeCompany(
    w,
    id,
    changeBody.parse({
      version,
      ...Object.fromEntries(companyPlain.keys.flatMap((key) => (key in values ? [[key, values[key]]] : []))),
      ...(Object.keys(place).length === 0 ? {} : { sites: [{ ...main, ...place }, ...others] }),
      ...(Object.keys(customOf(values)).length === 0 ? {} : { custom: customOf(values) }),
    }),
  );
}
