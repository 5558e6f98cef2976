import type { Contact, MailDifference, MailId, MailWriter } from '@kettle/contract';
import { companyDomain, companyKey, compareNames, firmKey } from '@kettle/core/duplicates';
import { countryOfMail, readSignature, type Signature } from '@kettle/core/mail';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { companiesOfDomain } from '../../records/companies/index';
import { readContact } from '../../records/contacts/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { findSimilarContacts } from '../duplicates/index';
import { ownWordsOf, readMailRow } from '../mail/index';

/** What a mail tells of its writer, and who and where they may be already. @throws Problem `not-found` */
export async function readWriter(services: Services, who: SignedIn, id: MailId): Promise<MailWriter> {
  const { database, settings } = services;
  const mail = await readMailRow(database, who, id);
  const [stored] = await database.rows<Row<'mail', 'text'>>('SELECT text FROM mail WHERE id = :id', {
    id: bytesOf(id),
  });
  const words = ownWordsOf(stored?.text ?? '');
  const { organisation } = await settings.read(database);
  const known = mail.contactId === null ? null : await readContact(database, mail.contactId);
  const country = known?.country ?? countryOfMail(mail.fromAddress, words, organisation.homeCountry);
  const signed = readSignature(words, { name: mail.fromName, address: mail.fromAddress, country });
  const [work, ...further] = signed.phones.filter(({ kind }) => kind !== 'fax');
  const { title: jobTitle, firm, street, postcode, city, website } = signed;
  const person = { givenName: signed.givenName ?? '', familyName: signed.familyName ?? '' };
  const like = known
    ? []
    : await findSimilarContacts(database, who, {
        ...person,
        companyName: firm ?? '',
        email: mail.fromAddress,
        phone: work?.number ?? '',
        country,
      });
  return {
    givenName: signed.givenName,
    familyName: signed.familyName,
    jobTitle,
    email: mail.fromAddress,
    phone: work?.number ?? null,
    otherPoints: further.map(({ kind, number }) => ({
      kind: 'phone',
      label: phoneWords[kind],
      value: number,
    })),
    country,
    companyName: firm,
    street,
    postcode,
    city,
    website,
    companies: known ? [] : await companiesFor(database, who, mail.fromAddress, firm),
    like,
    differs: known ? differencesOf(known, signed) : [],
    contactVersion: known?.version ?? null,
  };
}

const phoneWords: Readonly<Record<Signature['phones'][number]['kind'], string>> = {
  work: $localize`work`,
  direct: $localize`direct`,
  mobile: $localize`mobile`,
  fax: $localize`fax`,
};

/** The firm of the mail's domain, then those of the name that was signed. */
async function companiesFor(
  db: Queryable,
  who: SignedIn,
  address: string,
  firm: string | null,
): Promise<MailWriter['companies']> {
  const ofDomain = companyDomain(address) === null ? [] : await companiesOfDomain(db, who, address);
  const ofName =
    firm === null
      ? []
      : await db.rows<Row<'company', 'id' | 'name' | 'city'>>(
          `SELECT co.id, co.name, co.city FROM company co
            WHERE co.name_key = :key AND ${withinReach(who, 'company', 'co')} ORDER BY co.name, co.id LIMIT 6`,
          { ...reachParameters(who), key: companyKey(firm) },
        );
  const domain = address.split('@')[1] ?? '';
  const all = [
    ...ofDomain.map((row) => ({ ...row, why: $localize`others write from ${domain}:domain:` })),
    ...ofName.map((row) => ({ ...row, why: $localize`the same name` })),
  ].map(({ id, name, city, why }) => ({
    id: idOf<MailWriter['companies'][number]['id']>(id),
    name,
    city,
    why,
  }));
  return all.filter(({ id }, index) => all.findIndex((each) => each.id === id) === index);
}

/** Where a person's record says something else than they sign. What it does not say is different too; what they leave out is not. */
export function differencesOf(known: Contact, signed: Signature): MailDifference[] {
  const differs: MailDifference[] = [];
  const add = (
    field: MailDifference['field'],
    now: string | null,
    said: string | null,
    label: string | null = null,
  ) => {
    if (said !== null && said.toLowerCase() !== now?.toLowerCase()) differs.push({ field, now, said, label });
  };
  add('jobTitle', known.jobTitle, signed.title);
  const name = { givenName: signed.givenName ?? '', familyName: signed.familyName ?? '' };
  // Only one who is called the same has another family name now; somebody else may write from their address.
  if (compareNames(known, name) === 'part') add('familyName', known.familyName, signed.familyName);
  const [here, there] = [firmKey(known.companyName ?? ''), firmKey(signed.firm ?? '')];
  if (!here.includes(there) && !there.includes(here)) add('companyName', known.companyName, signed.firm);
  else if (known.companyName === null) add('companyName', null, signed.firm);
  const numbers = [known.phone, ...known.otherPoints.map(({ value }) => value)];
  for (const { kind, number } of signed.phones)
    if (kind !== 'fax' && !numbers.includes(number)) add('phone', null, number, phoneWords[kind]);
  return differs;
}
