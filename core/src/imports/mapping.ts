import type { CustomField, ImportField } from '@kettle/contract';
import { contactPlain } from '@kettle/contract/base/catalogues';
import { nameKey } from '../duplicates';

/** Names under which exports of all kinds carry a field; compared without case, accents and punctuation. */
const knownNames: Record<Exclude<ImportField, 'ignore' | `custom:${string}`>, readonly string[]> = {
  givenName: [
    'given name',
    'first name',
    'firstname',
    'forename',
    'christian name',
    'vorname',
    'voornaam',
    'nome proprio',
  ],
  familyName: ['family name', 'last name', 'lastname', 'surname', 'nachname', 'achternaam', 'apelido'],
  fullName: ['name', 'full name', 'contact', 'contact name', 'person', 'display name', 'nome'],
  company: [
    'company',
    'company name',
    'organisation',
    'organization',
    'firm',
    'account',
    'employer',
    'business',
    'bedrijf',
    'firma',
    'empresa',
  ],
  email: [
    'e mail',
    'email',
    'mail',
    'email address',
    'e mail address',
    'e mail 1',
    'primary email',
    'work email',
  ],
  phone: [
    'phone',
    'telephone',
    'tel',
    'phone number',
    'telephone number',
    'mobile',
    'mobile phone',
    'cell',
    'work phone',
    'phone 1',
  ],
  country: ['country', 'country code', 'land', 'pais'],
  city: ['city', 'town', 'place', 'locality', 'stad', 'ort', 'cidade'],
  street: ['street', 'address', 'address line 1', 'street address', 'address 1'],
  postcode: ['postcode', 'post code', 'zip', 'zip code', 'postal code', 'plz'],
  website: ['website', 'web', 'url', 'homepage', 'web site'],
  standing: ['standing', 'status', 'contact status'],
  ...contactPlain.each((_, { importNames }) => importNames ?? []),
  tags: ['tags', 'tag', 'labels', 'keywords', 'categories'],
  owner: ['owner', 'assigned to', 'rep', 'sales rep', 'account owner', 'contact owner'],
  note: ['note', 'notes', 'comment', 'comments', 'remark', 'remarks', 'description'],
};

const fieldByName = new Map(
  Object.entries(knownNames).flatMap(([field, names]) =>
    names.map((name) => [name, field as ImportField] as const),
  ),
);

/** Proposes a field for each column by its name; a field is given once, to the first column that asks for it. */
export function proposeMapping(
  columns: readonly string[],
  custom: readonly CustomField[] = [],
): ImportField[] {
  const given = new Set<ImportField>();
  const customByName = new Map(custom.map((field) => [nameKey(field.name), `custom:${field.id}` as const]));
  return columns.map((column) => {
    const key = nameKey(column);
    const field = customByName.get(key) ?? fieldByName.get(key) ?? 'ignore';
    if (field === 'ignore' || given.has(field)) return 'ignore';
    given.add(field);
    return field;
  });
}
