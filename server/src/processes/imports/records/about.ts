import { companyKey, nameKey } from '@kettle/core/duplicates';
import type { CompanyId, ContactId, DealId } from '@kettle/contract';
import type { RecordDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { idOf, idOrNull } from '../../../platform/ids';
import { mayChange } from '../../../records/rights/index';
import type { Reading } from '../file-kind';
import { readComing } from './coming';
import { textOf, type Found } from './record-kind';
import { findWhom } from './whom';

const distinct = (values: readonly string[]) => [...new Set(values.filter((value) => value !== ''))];

/** The person, company or deal that a task or a note is about. By line. */
export async function findAbout(
  reading: Reading,
  drafts: readonly RecordDraft[],
  { canBeCompany = false }: { readonly canBeCompany?: boolean } = {},
): Promise<ReadonlyMap<number, Found>> {
  const whom = await findWhom(reading, drafts);
  const deals = await readDeals(reading, drafts);
  const companies = canBeCompany ? await readCompanies(reading, drafts) : new Map<string, CompanyId>();
  const coming = await readComing(reading);
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const on = whom.get(line);
    const contactId = on?.kind === 'found' ? on.contactId : null;
    const called = textOf(values, 'deal');
    if (called !== '') {
      const fits = (deals.get(nameKey(called)) ?? []).filter(
        (each) => contactId === null || idOrNull<ContactId>(each.contact_id) === contactId,
      );
      if (fits.length === 1 && mayChange(reading.who, idOf<string>(fits[0]!.owner_id))) {
        const [deal] = fits;
        found.set(line, {
          dealId: idOf<DealId>(deal!.id),
          contactId: idOrNull<ContactId>(deal!.contact_id),
          companyId: idOrNull<CompanyId>(deal!.company_id),
        });
      } else if (fits.length === 0 && coming.deals.has(nameKey(called))) found.set(line, {});
      else
        found.set(line, {
          problem: {
            column: 'deal',
            reason:
              fits.length === 0
                ? $localize`there is no deal “${called}:called:”; import deals first`
                : fits.length === 1
                  ? $localize`“${called}:called:” is with a colleague`
                  : $localize`${fits.length}:count: deals are called “${called}:called:”; say whose`,
          },
        });
      continue;
    }
    const companyId = companies.get(companyKey(textOf(values, 'company')));
    const isCompanyAlone = textOf(values, 'person') === '' && textOf(values, 'email') === '';
    if (on?.kind === 'found') found.set(line, { contactId, companyId: on.companyId });
    else if (companyId !== undefined && isCompanyAlone) found.set(line, { companyId, contactId: null });
    else if (on?.kind === 'coming') found.set(line, {});
    else
      found.set(line, {
        problem: on?.problem ?? {
          column: 'person',
          reason: $localize`names nobody: a person, a company or a deal is needed`,
        },
      });
  }
  return found;
}

type DealRow = Row<'deal', 'id' | 'name' | 'contact_id' | 'company_id' | 'owner_id'>;

/** Open deals by name. */
async function readDeals({ db }: Reading, drafts: readonly RecordDraft[]): Promise<Map<string, DealRow[]>> {
  const names = distinct(drafts.map(({ values }) => textOf(values, 'deal')));
  if (names.length === 0) return new Map();
  const rows = await db.rows<DealRow>(
    "SELECT id, name, contact_id, company_id, owner_id FROM deal WHERE status = 'open' AND archived_at IS NULL AND name IN (:names) ORDER BY id",
    { names },
  );
  const byName = new Map<string, DealRow[]>();
  for (const row of rows) byName.set(nameKey(row.name), [...(byName.get(nameKey(row.name)) ?? []), row]);
  return byName;
}

async function readCompanies(
  { db, who }: Reading,
  drafts: readonly RecordDraft[],
): Promise<Map<string, CompanyId>> {
  const keys = distinct(drafts.map(({ values }) => companyKey(textOf(values, 'company'))));
  if (keys.length === 0) return new Map();
  const rows = await db.rows<Row<'company', 'id' | 'name_key' | 'owner_id'>>(
    'SELECT id, name_key, owner_id FROM company WHERE name_key IN (:keys) ORDER BY id',
    { keys },
  );
  return new Map(
    rows
      .filter(({ owner_id: owner }) => mayChange(who, idOrNull<string>(owner)))
      .map((row) => [row.name_key, idOf<CompanyId>(row.id)]),
  );
}
