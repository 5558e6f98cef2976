import type { Channel, CompanyId, ContactId, StandingId } from '@kettle/contract';
import { companyKey, nameKey, readPhone } from '@kettle/core/identity';
import { isDuplicateKey, type Queryable } from '../../db/database';
import { sqlInstant } from '../../db/values';
import { bytesOf, idOf, newId, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';

export interface ContactFields {
  readonly givenName: string;
  readonly familyName: string;
  readonly jobTitle: string | null;
  readonly companyId: CompanyId | null;
  readonly companyName: string | null;
  readonly email: string | null;
  readonly phone: string | null;
  readonly country: string;
  readonly zone: string;
}

export interface NewContact extends ContactFields {
  readonly id: ContactId;
  readonly standingId: StandingId;
  readonly ownerId: string | null;
  readonly source: string | null;
  readonly about: string;
  readonly checkInDays: number | null;
  readonly importId: string | null;
}

/** Adds a contact; false when its id is there already, which makes a repeated write harmless. */
export async function insertContact(tx: Queryable, contact: NewContact, now: string): Promise<boolean> {
  const changed = await tx.change(
    `INSERT IGNORE INTO contact (id, given_name, family_name, sort_name, job_title, company_id, company_name, email, phone,
        country, zone, standing_id, standing_set_at, check_in_days, owner_id, source, about, import_id, search_text, created_at)
     VALUES (:id, :givenName, :familyName, :sortName, :jobTitle, :companyId, :companyName, :email, :phone,
        :country, :zone, :standingId, :now, :checkInDays, :ownerId, :source, :about, :importId, :searchText, :now)`,
    {
      ...derivedColumns(contact),
      id: bytesOf(contact.id),
      standingId: bytesOf(contact.standingId),
      ownerId: bytesOf(contact.ownerId),
      source: contact.source,
      about: contact.about,
      checkInDays: contact.checkInDays,
      importId: bytesOf(contact.importId),
      now: sqlInstant(now),
    },
  );
  return changed === 1;
}

/** Columns of a contact's own fields, with those derived from them: for INSERT and UPDATE alike. */
export function derivedColumns(contact: ContactFields) {
  return {
    givenName: contact.givenName,
    familyName: contact.familyName,
    sortName: nameKey(`${contact.familyName} ${contact.givenName}`),
    jobTitle: contact.jobTitle,
    companyId: bytesOf(contact.companyId),
    companyName: contact.companyName,
    email: contact.email?.toLowerCase() ?? null,
    phone: contact.phone,
    country: contact.country,
    zone: contact.zone,
    searchText: searchText(contact),
  };
}

/** Everything quick search finds a contact by, cut into the words the full-text index holds. */
export function searchText(contact: ContactFields): string {
  const names = nameKey(
    [contact.givenName, contact.familyName, contact.companyName, contact.jobTitle].join(' '),
  );
  const number = contact.phone?.replace('+', '') ?? '';
  return [names, nameKey(contact.email ?? ''), number, nationalDigits(contact)]
    .filter(Boolean)
    .join(' ')
    .slice(0, 800);
}

/** The number as it is dialled at home: `01632960123` for `+441632960123`. */
function nationalDigits({ phone, country }: ContactFields): string {
  if (phone === null) return '';
  const callingCode: Readonly<Record<string, string>> = { GB: '44', IE: '353', NL: '31', PT: '351' };
  const code = callingCode[country];
  return code && phone.startsWith(`+${code}`) ? `0${phone.slice(code.length + 1)}` : '';
}

/** @throws Problem `invalid-request` on the field when the number cannot be one. */
export function parsePhone(text: string | null, country: string): string | null {
  if (text === null || text === '') return null;
  const number = readPhone(text, country);
  if (number) return number.e164;
  const message = 'must be a telephone number, with its country code if it is from abroad';
  throw new Problem('invalid-request', {}, { fields: [{ path: 'phone', message }] });
}

export interface CompanyDraft {
  readonly name: string;
  readonly country: string;
  readonly zone: string;
  readonly city: string | null;
  readonly street: string | null;
  readonly postcode: string | null;
  readonly website: string | null;
  readonly ownerId: string | null;
}

/** The company of this name in this country, made when there is none; two writers at once get the same one. */
export async function findOrMakeCompany(
  tx: Queryable,
  draft: CompanyDraft,
  now: string,
): Promise<{ id: CompanyId; name: string }> {
  const key = companyKey(draft.name);
  const find = async () => {
    const [row] = await tx.rows<{ id: IdBytes; name: string }>(
      'SELECT id, name FROM company WHERE name_key = :key AND country = :country FOR UPDATE',
      { key, country: draft.country },
    );
    return row && { id: idOf<CompanyId>(row.id), name: row.name };
  };
  const known = await find();
  if (known) return known;
  const id = newId<CompanyId>();
  try {
    await tx.change(
      `INSERT INTO company (id, name, name_key, website, street, postcode, city, country, zone, owner_id, created_at)
       VALUES (:id, :name, :key, :website, :street, :postcode, :city, :country, :zone, :ownerId, :now)`,
      { ...draft, id: bytesOf(id), key, ownerId: bytesOf(draft.ownerId), now: sqlInstant(now) },
    );
  } catch (error) {
    const other = isDuplicateKey(error) ? await find() : undefined;
    if (!other) throw error;
    return other;
  }
  return { id, name: draft.name };
}

/** Sets the do-not-contact marks to exactly these channels; marks that stay keep their date and origin. */
export async function writeMarks(
  tx: Queryable,
  contactId: ContactId,
  channels: readonly Channel[],
  origin: string,
  now: string,
): Promise<void> {
  await tx.change('DELETE FROM do_not_contact WHERE contact_id = :id AND channel NOT IN (:keep)', {
    id: bytesOf(contactId),
    keep: channels.length ? channels : [''],
  });
  for (const channel of channels)
    await tx.change(
      'INSERT IGNORE INTO do_not_contact (contact_id, channel, since, origin) VALUES (:id, :channel, :now, :origin)',
      { id: bytesOf(contactId), channel, now: sqlInstant(now), origin },
    );
}
