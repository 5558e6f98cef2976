import type { CompanyId, ContactId } from '@kettle/contract';
import { companyKey, nameKey, splitName } from '@kettle/core/duplicates';
import type { CellProblem, RecordDraft } from '@kettle/core/imports';
import type { Queryable } from '../../../platform/database/database';
import { idOf, idOrNull } from '../../../platform/ids';
import type { Row } from '../../../platform/database/schema.generated';
import { mayChange, readableIds } from '../../../records/rights/index';
import type { Reading } from '../file-kind';
import { readComing, type Coming } from './coming';
import { textOf, type Values } from './record-kind';

/** Whom a row is about. */
export type Whom =
  | { readonly kind: 'found'; readonly contactId: ContactId; readonly companyId: CompanyId | null }
  /** They come with another file of the same package. */
  | { readonly kind: 'coming' }
  /** Nobody of that name or address is here. */
  | { readonly kind: 'nobody'; readonly problem: CellProblem }
  /** Several are, or they are a colleague's. */
  | { readonly kind: 'refused'; readonly problem: CellProblem };

type PersonRow = Row<
  'contact',
  'id' | 'given_name' | 'family_name' | 'company_name' | 'company_id' | 'email' | 'category' | 'owner_id'
>;
const columns =
  'c.id, c.given_name, c.family_name, c.company_name, c.company_id, c.email, c.category, c.owner_id';

/** The person each row is about: by address, else by name and company, else by a company with one person. By line; rows that name nobody are left out. */
export async function findWhom(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Whom>> {
  const named = drafts.filter(({ values }) => isNamed(values));
  if (named.length === 0) return new Map();
  const people = await readPeople(reading.db, named);
  const readable = new Set(
    (
      await readableIds(
        reading.db,
        reading.who,
        'contact',
        [...people.byId.values()].map(({ id }) => id),
      )
    ).map((id) => id.toString('hex')),
  );
  const coming = await readComing(reading);
  return new Map(
    named.map(({ line, values }) => [line, whomOf(values, people, { reading, readable, coming })] as const),
  );
}

/** A row that is about nobody. */
export const namesNobody = (): CellProblem => ({
  column: 'person',
  reason: $localize`names nobody: a name, an e-mail or a company is needed`,
});

/** Rows with the same name of a thing, about the same person as far as the file says, are one. */
export const samePerson = (values: Values, name: string): string =>
  [name, textOf(values, 'email') !== '' ? 'email' : 'person', 'company']
    .map((key) => nameKey(textOf(values, key)))
    .join('|');

const isNamed = (values: Values) =>
  textOf(values, 'email') !== '' || textOf(values, 'person') !== '' || textOf(values, 'company') !== '';

interface People {
  readonly byId: ReadonlyMap<string, PersonRow>;
  readonly byEmail: ReadonlyMap<string, readonly PersonRow[]>;
  readonly byName: ReadonlyMap<string, readonly PersonRow[]>;
  readonly byCompany: ReadonlyMap<string, readonly PersonRow[]>;
}

const atOnce = 1000;
const distinct = (values: readonly string[]) => [...new Set(values.filter((value) => value !== ''))];

/** Relies on contact_email, contact_sort_name and company_name_key. */
async function readPeople(db: Queryable, drafts: readonly RecordDraft[]): Promise<People> {
  const rows = new Map<string, PersonRow>();
  const lookUp = async (sql: string, values: readonly string[]) => {
    for (let from = 0; from < values.length; from += atOnce)
      for (const row of await db.rows<PersonRow>(`SELECT ${columns} ${sql} ORDER BY c.id`, {
        values: values.slice(from, from + atOnce),
      }))
        rows.set(row.id.toString('hex'), row);
  };
  const alive = 'c.archived_at IS NULL';
  await lookUp(
    `FROM contact c WHERE ${alive} AND c.email IN (:values)`,
    distinct(drafts.map(({ values }) => textOf(values, 'email'))),
  );
  const families = drafts.map(({ values }) => splitName(textOf(values, 'person')).familyName);
  await lookUp(`FROM contact c WHERE ${alive} AND c.family_name IN (:values)`, distinct(families));
  await lookUp(
    `FROM company co JOIN contact c ON c.company_id = co.id WHERE ${alive} AND co.name_key IN (:values)`,
    distinct(drafts.map(({ values }) => companyKey(textOf(values, 'company')))),
  );
  const [byEmail, byName, byCompany] = [
    new Map<string, PersonRow[]>(),
    new Map<string, PersonRow[]>(),
    new Map<string, PersonRow[]>(),
  ];
  const add = (map: Map<string, PersonRow[]>, key: string, row: PersonRow) => {
    if (key !== '') map.set(key, [...(map.get(key) ?? []), row]);
  };
  for (const row of rows.values()) {
    add(byEmail, row.email?.toLowerCase() ?? '', row);
    add(byName, nameKey(`${row.given_name} ${row.family_name}`), row);
    add(byCompany, companyKey(row.company_name ?? ''), row);
  }
  return { byId: rows, byEmail, byName, byCompany };
}

function whomOf(
  values: Values,
  people: People,
  { reading, readable, coming }: { reading: Reading; readable: ReadonlySet<string>; coming: Coming },
): Whom {
  const [email, person, company] = ['email', 'person', 'company'].map((key) => textOf(values, key)) as [
    string,
    string,
    string,
  ];
  const nobody = (column: string, reason: string): Whom => ({ kind: 'nobody', problem: { column, reason } });
  const refused = (column: string, reason: string): Whom => ({
    kind: 'refused',
    problem: { column, reason },
  });
  const isAt = (row: PersonRow) =>
    company === '' || companyKey(row.company_name ?? '') === companyKey(company);
  const choose = (rows: readonly PersonRow[], column: string, called: string): Whom | null => {
    const seen = rows.filter((row) => readable.has(row.id.toString('hex')));
    if (rows.length > 0 && seen.length === 0)
      return refused(column, $localize`${called}:called: is with a colleague`);
    const near = seen.filter(isAt);
    const fit = near.length > 0 ? near : column === 'email' ? seen : near;
    if (fit.length > 1)
      return refused(
        column,
        $localize`${fit.length}:count: people are called ${called}:called: here; say which by their e-mail`,
      );
    const [found] = fit;
    if (found === undefined) return null;
    if (!mayChange(reading.who, idOrNull(found.owner_id)))
      return refused(column, $localize`${called}:called: is with a colleague`);
    return { kind: 'found', contactId: idOf<ContactId>(found.id), companyId: idOrNull(found.company_id) };
  };
  const named = nameKey(nameOf(person));
  if (email !== '') {
    const found = choose(people.byEmail.get(email) ?? [], 'email', email);
    if (found !== null) return found;
    if (coming.emails.has(email)) return { kind: 'coming' };
  }
  if (person !== '') {
    const found = email === '' ? choose(people.byName.get(named) ?? [], 'person', person) : null;
    if (found !== null) return found;
    if (email === '' && coming.names.has(named)) return { kind: 'coming' };
    return nobody(
      email === '' ? 'person' : 'email',
      $localize`nobody called ${person}:person: is here; import people first`,
    );
  }
  if (email !== '')
    return nobody('email', $localize`nobody here has the address ${email}:email:; import people first`);
  const there = people.byCompany.get(companyKey(company)) ?? [];
  const firm = there.find(({ category }) => category === 'organisation');
  const found = choose(firm === undefined ? there : [firm], 'company', company);
  if (found?.kind === 'refused' && there.length > 1)
    return refused(
      'company',
      $localize`${there.length}:count: people are at ${company}:company:; say which by name or e-mail`,
    );
  if (found !== null) return found;
  return coming.companies.get(companyKey(company)) === 1
    ? { kind: 'coming' }
    : nobody('company', $localize`nobody is known at ${company}:company:; import people first`);
}

/** As one name, whichever part stands first. */
function nameOf(person: string): string {
  const { givenName, familyName } = splitName(person);
  return `${givenName} ${familyName}`;
}
