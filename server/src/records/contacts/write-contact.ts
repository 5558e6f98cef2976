import type { Channel, CompanyId, ContactCategory, ContactId, SiteId, StandingId } from '@kettle/contract';
import type { PersonWork, Work } from '../../platform/work/work';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import { companyKey, nameKey } from '@kettle/core/duplicates';
import { readPhone } from '@kettle/core/phone';
import { localDate } from '@kettle/core/time';
import { checkInDueOn } from '@kettle/core/touch';
import { isDuplicateKey } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { readStandings } from '../settings/index';
import type { Row } from '../../platform/database/schema.generated';
import type { Writing } from '../../platform/work/work';

export interface ContactFields extends Partial<ContactPlain> {
  readonly givenName: string;
  readonly familyName: string;
  readonly companyId: CompanyId | null;
  readonly companyName: string | null;
  readonly email: string | null;
  readonly phone: string | null;
  readonly country: string;
  readonly zone: string;
  readonly category?: ContactCategory;
  readonly emailLabel?: string | null;
  readonly phoneLabel?: string | null;
  readonly siteId?: SiteId | null;
  readonly zoneByHand?: boolean;
  readonly about: string;
  readonly checkInDays: number | null;
  readonly standingId: StandingId;
  /** Further addresses, numbers and firms, which quick search finds the contact by as well. */
  readonly alsoFoundBy?: readonly string[];
}

export interface NewContact extends ContactFields {
  readonly id: ContactId;
  readonly ownerId: string | null;
  readonly importId: string | null;
}

/** Adds a contact; false when its id is there already, which makes a repeated write harmless. */
export async function insertContact(w: Writing, contact: NewContact): Promise<boolean> {
  const columns = {
    ...contactColumnsOf(contact),
    owner_id: bytesOf(contact.ownerId),
    import_id: bytesOf(contact.importId),
  };
  const names = Object.keys(columns);
  const changed = await w.change(
    `INSERT IGNORE INTO contact (id, ${names.join(', ')}, standing_set_at, created_at)
     VALUES (:id, ${names.map((name) => `:${name}`).join(', ')}, :now, :now)`,
    { ...columns, id: bytesOf(contact.id), now: sqlInstant(w.now) },
  );
  return changed === 1;
}

/**
 * Adds many contacts in one statement, each with the day of its first check-in: what is derived from its journal is so already, and is not
 * written a second time.
 * @returns the ids of those that were not there already
 */
export async function insertContacts(
  w: Work,
  contacts: readonly NewContact[],
): Promise<ReadonlySet<ContactId>> {
  if (contacts.length === 0) return new Set();
  const { organisation } = await w.settings();
  const days = new Map((await readStandings(w)).map(({ id, checkInDays }) => [id, checkInDays]));
  const firstCheckIn = ({ standingId, checkInDays, country, zone }: NewContact) =>
    checkInDueOn(
      {
        lastTouchOn: null,
        standingSetOn: localDate(w.now, zone),
        standingDays: days.get(standingId) ?? null,
        ownDays: checkInDays,
      },
      w.services.calendars.of({ country, zone }, organisation),
    );
  const there = await w.rows<Row<'contact', 'id'>>('SELECT id FROM contact WHERE id IN (:ids) FOR UPDATE', {
    ids: contacts.map(({ id }) => bytesOf(id)),
  });
  const known = new Set(there.map(({ id }) => idOf<ContactId>(id)));
  const fresh = contacts.filter(({ id }) => !known.has(id));
  const lines = fresh.map((contact) => ({
    id: bytesOf(contact.id),
    ...contactColumnsOf(contact),
    owner_id: bytesOf(contact.ownerId),
    import_id: bytesOf(contact.importId),
    standing_set_at: sqlInstant(w.now),
    created_at: sqlInstant(w.now),
    next_touch_due: firstCheckIn(contact),
  }));
  if (lines.length > 0)
    await w.change(`INSERT INTO contact (${Object.keys(lines[0]!).join(', ')}) VALUES :rows`, {
      rows: lines.map((line) => Object.values(line)),
    });
  return new Set(fresh.map(({ id }) => id));
}

const plainColumnsOf = (contact: Partial<ContactPlain>) =>
  Object.fromEntries(contactPlain.keys.map((key) => [contactPlain.of(key).column, contact[key] ?? null]));

/** Columns of a contact's own fields, with those derived from them, by column name: for INSERT and UPDATE alike. */
export function contactColumnsOf(contact: ContactFields) {
  return {
    category: contact.category ?? 'person',
    given_name: contact.givenName,
    family_name: contact.familyName,
    sort_name: nameKey(`${contact.familyName} ${contact.givenName}`) || nameKey(contact.companyName ?? ''),
    company_id: bytesOf(contact.companyId),
    company_name: contact.companyName,
    site_id: bytesOf(contact.siteId),
    email: contact.email?.toLowerCase() ?? null,
    email_label: contact.emailLabel ?? null,
    phone: contact.phone,
    phone_label: contact.phoneLabel ?? null,
    country: contact.country,
    zone: contact.zone,
    zone_by_hand: contact.zoneByHand === true ? 1 : 0,
    standing_id: bytesOf(contact.standingId),
    check_in_days: contact.checkInDays,
    ...plainColumnsOf(contact),
    about: contact.about,
    search_text: searchText(contact),
  };
}

type Searchable = Pick<
  ContactFields,
  'givenName' | 'familyName' | 'companyName' | 'jobTitle' | 'email' | 'phone' | 'country' | 'alsoFoundBy'
>;

/** Everything quick search finds a contact by, cut into the words the full-text index holds. */
export function searchText(contact: Searchable): string {
  const names = nameKey(
    [contact.givenName, contact.familyName, contact.companyName, contact.jobTitle].join(' '),
  );
  const number = contact.phone?.replace('+', '') ?? '';
  const also = (contact.alsoFoundBy ?? []).map((text) => nameKey(text.replace(/^\+/, '')));
  return [names, nameKey(contact.email ?? ''), number, nationalDigits(contact), ...also]
    .filter(Boolean)
    .join(' ')
    .slice(0, 800);
}

/** The number as it is dialled at home: `01632960123` for `+441632960123`. */
function nationalDigits({ phone, country }: Pick<Searchable, 'phone' | 'country'>): string {
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
  const message = $localize`must be a telephone number, with its country code if it is from abroad`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'phone', message }] });
}

export interface NamedCompany {
  readonly id: CompanyId;
  readonly name: string;
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

export interface NamedCompany {
  readonly id: CompanyId;
  readonly name: string;
}

/** The company of this name in this country, made when there is none; two writers at once get the same one. */
export async function findOrMakeCompany(w: Writing, draft: CompanyDraft): Promise<NamedCompany> {
  const find = async () => {
    const [row] = await w.rows<Row<'company', 'id' | 'name'>>(
      'SELECT id, name FROM company WHERE name_key = :key AND country = :country FOR UPDATE',
      { key: companyKey(draft.name), country: draft.country },
    );
    return row && { id: idOf<CompanyId>(row.id), name: row.name };
  };
  const known = await find();
  if (known) return known;
  try {
    return (await makeCompanies(w, [draft]))[0]!;
  } catch (error) {
    const other = isDuplicateKey(error) ? await find() : undefined;
    if (!other) throw error;
    return other;
  }
}

async function makeCompanies(w: Writing, drafts: readonly CompanyDraft[]): Promise<NamedCompany[]> {
  const made = drafts.map((draft) => ({ draft, id: newId<CompanyId>() }));
  await w.change(
    'INSERT INTO company (id, name, name_key, website, street, postcode, city, country, zone, owner_id, created_at) VALUES :rows',
    {
      rows: made.map(({ id, draft }) => [
        bytesOf(id),
        draft.name,
        companyKey(draft.name),
        draft.website,
        draft.street,
        draft.postcode,
        draft.city,
        draft.country,
        draft.zone,
        bytesOf(draft.ownerId),
        sqlInstant(w.now),
      ]),
    },
  );
  return made.map(({ id, draft }) => ({ id, name: draft.name }));
}

/** A company as names are compared, in its country. */
export const placeKey = (name: string, country: string) => `${companyKey(name)}|${country}`;

/** `findOrMakeCompany` for many, by `placeKey`. Where several drafts name one company, the first says what it is like. */
export async function findOrMakeCompanies(
  w: Writing,
  drafts: readonly CompanyDraft[],
): Promise<Map<string, NamedCompany>> {
  const wanted = new Map<string, CompanyDraft>();
  for (const draft of drafts) {
    const key = placeKey(draft.name, draft.country);
    if (!wanted.has(key)) wanted.set(key, draft);
  }
  const found = new Map<string, NamedCompany>();
  if (wanted.size === 0) return found;
  const rows = await w.rows<Row<'company', 'id' | 'name' | 'name_key' | 'country'>>(
    'SELECT id, name, name_key, country FROM company WHERE name_key IN (:keys) ORDER BY name_key, country FOR UPDATE',
    { keys: [...wanted.values()].map(({ name }) => companyKey(name)) },
  );
  for (const { id, name, name_key, country } of rows)
    found.set(`${name_key}|${country}`, { id: idOf(id), name });
  const missing = [...wanted].filter(([key]) => !found.has(key));
  if (missing.length === 0) return found;
  try {
    const made = await makeCompanies(
      w,
      missing.map(([, draft]) => draft),
    );
    missing.forEach(([key], index) => found.set(key, made[index]!));
  } catch (error) {
    // Somebody else made one of them meanwhile; the statement wrote none.
    if (!isDuplicateKey(error)) throw error;
    for (const [key, draft] of missing) found.set(key, await findOrMakeCompany(w, draft));
  }
  return found;
}

/** Sets the do-not-contact marks to exactly these channels; marks that stay keep their date and origin. */
export async function writeMarks(
  w: PersonWork,
  contactId: ContactId,
  channels: readonly Channel[],
): Promise<void> {
  await w.change('DELETE FROM do_not_contact WHERE contact_id = :id AND channel NOT IN (:keep)', {
    id: bytesOf(contactId),
    keep: channels.length ? channels : [''],
  });
  for (const channel of channels)
    await w.change(
      'INSERT IGNORE INTO do_not_contact (contact_id, channel, since, origin) VALUES (:id, :channel, :now, :origin)',
      { id: bytesOf(contactId), channel, now: sqlInstant(w.now), origin: w.who.name },
    );
}
