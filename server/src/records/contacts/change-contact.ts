import type {
  CellField,
  CellValue,
  ChangeContactBody,
  CompanyId,
  Contact,
  ContactId,
  ContactRow,
  CreateContactBody,
  OtherPoint,
  Standing,
  UserId,
} from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import { cellLabel, changeContact as changeContactSchema, emailAddress } from '@kettle/contract';
import { isSame, itemOf, mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import { readPhone } from '@kettle/core/phone';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { customAt, sayCustom, writeCustomValues } from '../fields/index';
import { writeSystemEntry } from '../entries/index';
import { notify } from '../notifications/index';
import { assertMayChange } from '../rights/index';
import { type AllSettings, readDefaultStanding, readStandings, zoneAt } from '../settings/index';
import { readContact } from './contact-rows';
import { contactColumnsOf, findOrMakeCompany, insertContact, parsePhone, writeMarks } from './write-contact';
import type { PersonWork, Writing } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** Adds a contact and everything that belongs to it, inside the caller's transaction. */
export async function addContact(w: PersonWork, asked: CreateContactBody): Promise<ContactId> {
  const body = withCheckedPoints(asked);
  const settings = await w.settings();
  const id = newId<ContactId>();
  const source = body.source ?? $localize`by hand`;
  const standingId = body.standingId ?? (await standingFor(w, settings, source)).id;
  const fields = await resolveFields(w, { ...body, standingId, source }, null);
  await insertContact(w, { ...fields, id, ownerId: w.who.id, importId: null });
  await writeBelongings(w, id, body);
  await writeMarks(w, id, body.doNotContact);
  w.say($localize`${body.givenName}:givenName: ${body.familyName}:familyName: added`.trim());
  return id;
}

/** The standing a new contact gets: by its source, else the one that is given to all. */
export async function standingFor(
  db: Queryable,
  { standingBySource }: AllSettings,
  source: string,
): Promise<Pick<Standing, 'id'>> {
  const rule = standingBySource.list.find((each) => each.source.toLowerCase() === source.toLowerCase());
  return rule ? { id: rule.standingId } : readDefaultStanding(db);
}

/**
 * Changes a contact over the version it was seen at; what changed from what to what goes into the journal.
 * @throws Problem `not-found`, `not-yours`, `stale` with the contact as it is now, `invalid-request` on a field
 */
export async function changeContact(w: PersonWork, id: string, asked: ChangeContactBody): Promise<void> {
  const { clock } = w.services;
  const now = clock.now();
  await w.rows('SELECT 1 FROM contact WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const before = await readContact(w, id);
  await assertMayChange(w, w.who, before.ownerId);
  const current = bodyOf(before);
  const body = withCheckedPoints(
    await mergeChange(w, { table: 'contact', id, fields: fieldsAt, asked, record: before, current }),
  );
  const fields = await resolveFields(w, body, before);
  const columns = contactColumnsOf(fields);
  const assignments = Object.keys(columns).map((name) => `${name} = :${name}`);
  await w.change(
    `UPDATE contact SET email_unusable = email_unusable AND email <=> :email,
            phone_unusable = phone_unusable AND phone <=> :phone,
            standing_set_at = IF(standing_id = :standing_id, standing_set_at, :now),
            ${assignments.join(', ')}, version = version + 1
      WHERE id = :id`,
    { ...columns, id: bytesOf(id), now: sqlInstant(now) },
  );
  await writeBelongings(w, id, {
    ...body,
    // What hangs on the contact and is the same is not written anew.
    ...(isSame(body.tags, before.tags) ? { tags: undefined } : {}),
    ...(isSame(body.otherPoints, before.otherPoints) ? { otherPoints: undefined } : {}),
    ...(isSame(body.otherCompanies, before.otherCompanies) ? { otherCompanies: undefined } : {}),
  });
  await writeMarks(w, id as ContactId, body.doNotContact);
  await writeDifference(w, before, await readContact(w, id));
}

/** Where the fields of a change are kept, all of them, so that two people's changes meet field by field. */
const fieldsAt: FieldsAt<ChangeContactBody> = {
  category: { column: 'category' },
  givenName: { column: 'given_name' },
  familyName: { column: 'family_name' },
  companyName: { column: 'company_name' },
  // It says which one of the name is meant.
  companyId: 'not kept',
  email: { column: 'email' },
  emailLabel: { column: 'email_label' },
  phone: { column: 'phone' },
  phoneLabel: { column: 'phone_label' },
  country: { column: 'country' },
  zone: { column: 'zone' },
  siteId: { column: 'site_id' },
  standingId: { column: 'standing_id' },
  checkInDays: { column: 'check_in_days' },
  ...contactPlain.each((_, { column }) => ({ column })),
  about: { column: 'about' },
  otherPoints: { rows: 'contact_point', of: 'contact_id' },
  otherCompanies: { rows: 'contact_company', of: 'contact_id' },
  tags: { rows: 'contact_tag', of: 'contact_id', item: itemOf('tag') },
  doNotContact: { rows: 'do_not_contact', of: 'contact_id', item: itemOf('channel') },
  custom: customAt,
};

/** A whole change body that leaves a contact as it is. */
export function bodyOf(contact: Contact): ChangeContactBody {
  return {
    version: contact.version,
    category: contact.category,
    givenName: contact.givenName,
    familyName: contact.familyName,
    ...(contactPlain.each((key) => contact[key]) as ContactPlain),
    companyName: contact.companyName,
    email: contact.email,
    phone: contact.phone,
    country: contact.country,
    zone: contact.zoneByHand ? contact.zone : null,
    standingId: contact.standingId,
    checkInDays: contact.checkInDays,
    tags: contact.tags,
    doNotContact: contact.doNotContact.map((mark) => mark.channel),
  };
}

/** What one field of a contact holds, as its cell writes it. */
export function cellOf(contact: ContactRow, field: CellField): CellValue {
  if (!isBuiltIn(field)) return contact.custom[field.slice('custom:'.length)] ?? null;
  return contact[field] ?? null;
}

const isBuiltIn = (field: CellField): field is Exclude<CellField, `custom:${string}`> =>
  !field.startsWith('custom:');

/**
 * Writes one field. The owner is changed as handing over, everything else as a change of the whole contact, so that a
 * cell, a bulk change and the form follow the same rules.
 */
export async function writeCell(
  w: PersonWork,
  before: Contact,
  change: { field: CellField; value: CellValue },
  /** The version the field was seen at; left out, the one that was read. */
  version = before.version,
): Promise<void> {
  const { field, value } = change;
  if (field === 'ownerId') return giveTo(w, before, value as UserId | null);
  const body: ChangeContactBody = field.startsWith('custom:')
    ? { ...bodyOf(before), version, custom: { [field.slice(7)]: value as never } as never }
    : { ...bodyOf(before), version, [field]: value };
  const checked = checkedBody(body, field);
  await changeContact(w, before.id, checked);
}

/** Gives a contact to somebody or back to the pool; the journal says from whom to whom, and the new owner is told. */
export async function giveTo(
  w: PersonWork,
  before: Pick<Contact, 'id' | 'ownerId' | 'ownerName' | 'version' | 'name'>,
  ownerId: UserId | null,
): Promise<void> {
  await assertMayChange(w, w.who, before.ownerId);
  const [owner] = await w.rows<Row<'app_user', 'name'>>('SELECT name FROM app_user WHERE id = :id', {
    id: bytesOf(ownerId),
  });
  if (ownerId !== null && !owner) throw new Problem('not-found');
  if (before.ownerId === ownerId) return;
  const changed = await w.change(
    'UPDATE contact SET owner_id = :owner, version = version + 1 WHERE id = :id AND version = :version',
    { owner: bytesOf(ownerId), id: bytesOf(before.id), version: before.version },
  );
  if (changed === 0) throw new Problem('stale', {}, { current: await readContact(w, before.id) });
  const body = $localize`Owner: ${before.ownerName ?? $localize`nobody`}:ownerName: → ${owner?.name ?? $localize`nobody`}:name:`;
  w.say(`${before.name}: ${body}`);
  await writeSystemEntry(w, { body, contactId: before.id, userId: w.who.id });
  if (ownerId !== null && ownerId !== w.who.id)
    await notify(
      w,
      'given',
      [ownerId],
      $localize`${w.who.name}:name: gave you ${before.name}:name2:`,
      `/people/${before.id}`,
    );
}

function checkedBody(body: ChangeContactBody, field: CellField): ChangeContactBody {
  const parsed = changeContactSchema.safeParse(body);
  if (parsed.success) return parsed.data;
  const message = parsed.error.issues[0]?.message ?? $localize`does not fit`;
  throw new Problem('invalid-request', {}, { fields: [{ path: field, message }] });
}

/** Everything that lies in tables of its own; what the body leaves out stays. */
async function writeBelongings(w: PersonWork, id: string, body: Partial<ChangeContactBody>): Promise<void> {
  const key = { id: bytesOf(id) };
  if (body.tags !== undefined) {
    await w.change('DELETE FROM contact_tag WHERE contact_id = :id', key);
    const rows = [...new Set(body.tags)].map((tag) => [bytesOf(id), tag]);
    if (rows.length > 0) await w.change('INSERT INTO contact_tag (contact_id, tag) VALUES :rows', { rows });
  }
  if (body.otherPoints !== undefined) {
    await w.change('DELETE FROM contact_point WHERE contact_id = :id', key);
    const rows = body.otherPoints.map((point, index) => [
      bytesOf(newId()),
      bytesOf(id),
      point.kind,
      point.label,
      point.value,
      index,
    ]);
    if (rows.length > 0)
      await w.change(
        'INSERT INTO contact_point (id, contact_id, kind, label, value, position) VALUES :rows',
        {
          rows,
        },
      );
  }
  if (body.otherCompanies !== undefined) {
    await w.change('DELETE FROM contact_company WHERE contact_id = :id', key);
    const place = await placeOf(w, id);
    for (const { name, role } of body.otherCompanies) {
      const company = await findOrMakeCompany(w, { name, ...place, ownerId: w.who.id });
      await w.change(
        'INSERT IGNORE INTO contact_company (contact_id, company_id, role) VALUES (:id, :company, :role)',
        { ...key, company: bytesOf(company.id), role },
      );
    }
  }
  if (body.custom !== undefined) await writeCustomValues(w, 'contact', id, body.custom);
}

async function placeOf(tx: Queryable, contactId: string) {
  const [row] = await tx.rows<Row<'contact', 'country' | 'zone'>>(
    'SELECT country, zone FROM contact WHERE id = :id',
    { id: bytesOf(contactId) },
  );
  const nowhere = { city: null, street: null, postcode: null, website: null };
  return { ...nowhere, country: row?.country ?? 'GB', zone: row?.zone ?? 'UTC' };
}

/** Further addresses in the form they are compared and found by. */
function withCheckedPoints<Body extends Partial<ChangeContactBody>>(body: Body): Body {
  const points = body.otherPoints?.map((point, index) => checkedPoint(point, index, body.country ?? 'GB'));
  return points ? { ...body, otherPoints: points } : body;
}

/** @throws Problem `invalid-request` on the point that is no address, number or link */
function checkedPoint(point: OtherPoint, index: number, country: string): OtherPoint {
  const refuse = (message: string) =>
    new Problem('invalid-request', {}, { fields: [{ path: `otherPoints.${index}.value`, message }] });
  if (point.kind === 'email') {
    const parsed = emailAddress.safeParse(point.value.toLowerCase());
    if (!parsed.success) throw refuse($localize`must be an e-mail address such as ada@firm.example`);
    return { ...point, value: parsed.data };
  }
  if (point.kind === 'phone') {
    const number = readPhone(point.value, country);
    if (!number)
      throw refuse($localize`must be a telephone number, with its country code if it is from abroad`);
    return { ...point, value: number.e164 };
  }
  if (!/^https?:\/\/[^\s]+$/i.test(point.value))
    throw refuse($localize`must be a web address such as https://firm.example`);
  return point;
}

type Resolvable = Omit<ChangeContactBody, 'version' | 'doNotContact'>;

/**
 * Company found or made, number in E.164; country and zone as they were given, else from the site, else from the number,
 * else as they were, else the organisation's own.
 */
async function resolveFields(w: PersonWork, body: Resolvable, before: Contact | null) {
  const { organisation } = await w.settings();
  const site = await readSite(w, body.siteId === undefined ? (before?.siteId ?? null) : body.siteId);
  const homeOf = body.country ?? site?.country ?? organisation.homeCountry;
  const ofNumber = body.phone ? readPhone(body.phone, homeOf)?.country : null;
  const country = body.country ?? site?.country ?? ofNumber ?? before?.country ?? organisation.homeCountry;
  const derived = site && site.country === country ? site.zone : zoneAt(country, organisation);
  // A form sends back the zone it was shown: only another one was put right by hand.
  const isShownZone = before !== null && body.zone === before.zone && !before.zoneByHand;
  const zone = (isShownZone ? null : body.zone) ?? derived;
  const place = { city: null, street: null, postcode: null, website: null, country, zone, ownerId: w.who.id };
  const company = await companyFor(w, body, before, place);
  const points = body.otherPoints ?? before?.otherPoints ?? [];
  const companies = body.otherCompanies ?? before?.otherCompanies ?? [];
  return {
    category: body.category ?? before?.category ?? 'person',
    givenName: body.givenName,
    familyName: body.familyName,
    ...(contactPlain.each((key) =>
      body[key] === undefined ? (before?.[key] ?? null) : body[key],
    ) as ContactPlain),
    companyId: company?.id ?? null,
    companyName: company?.name ?? null,
    siteId: site && company?.id === site.companyId ? site.id : null,
    email: body.email,
    emailLabel: body.emailLabel === undefined ? (before?.emailLabel ?? null) : body.emailLabel,
    phone: parsePhone(body.phone, country),
    phoneLabel: body.phoneLabel === undefined ? (before?.phoneLabel ?? null) : body.phoneLabel,
    country,
    zone,
    zoneByHand: zone !== derived,
    standingId: body.standingId,
    checkInDays: body.checkInDays,
    about: body.about ?? before?.about ?? '',
    alsoFoundBy: [...points.map((point) => point.value), ...companies.map((each) => each.name)],
  };
}

/** The company stays the same one while its name does, whatever country the person moved to. */
async function companyFor(
  w: Writing,
  body: Resolvable,
  before: Contact | null,
  place: Omit<Parameters<typeof findOrMakeCompany>[1], 'name'>,
): Promise<{ id: CompanyId; name: string } | null> {
  if (!body.companyName) return null;
  const isOther = body.companyId && body.companyId !== before?.companyId;
  const chosen = isOther ? await readCompanyName(w, body.companyId!) : null;
  // A name that somebody else wrote meanwhile is not the one that was chosen.
  if (chosen?.name === body.companyName) return chosen;
  if (before?.companyId && before.companyName === body.companyName)
    return { id: before.companyId, name: before.companyName };
  return findOrMakeCompany(w, { name: body.companyName, ...place });
}

async function readCompanyName(
  db: Queryable,
  id: CompanyId,
): Promise<{ id: CompanyId; name: string } | null> {
  const [row] = await db.rows<Row<'company', 'name'>>('SELECT name FROM company WHERE id = :id', {
    id: bytesOf(id),
  });
  return row ? { id, name: row.name } : null;
}

async function readSite(tx: Queryable, siteId: string | null) {
  if (siteId === null) return null;
  const [row] = await tx.rows<Row<'site', 'id' | 'company_id' | 'country' | 'zone'>>(
    'SELECT id, company_id, country, zone FROM site WHERE id = :id',
    { id: bytesOf(siteId) },
  );
  if (!row) return null;
  return {
    id: siteId as NonNullable<Contact['siteId']>,
    companyId: idOrNull<CompanyId>(row.company_id),
    country: row.country,
    zone: row.zone,
  };
}

/** One entry that says every difference: `E-mail: a@x → b@x; Warmth: empty → hot`. */
async function writeDifference(w: PersonWork, before: Contact, after: Contact): Promise<void> {
  const standings = new Map((await readStandings(w)).map((standing) => [standing.id, standing.name]));
  const sayOwn = await sayCustom(w, 'contact');
  const describe = (contact: Contact): Map<string, string> => {
    const said = new Map<string, string>();
    for (const [field, label] of Object.entries(cellLabel))
      if (field !== 'ownerId')
        said.set(capital(label), sayCell(cellOf(contact, field as CellField), standings));
    said.set('Site', contact.siteName ?? '');
    said.set('Further addresses', contact.otherPoints.map((point) => point.value).join(', '));
    said.set('Further companies', contact.otherCompanies.map((each) => each.name).join(', '));
    said.set('Do not contact by', contact.doNotContact.map((mark) => mark.channel).join(', '));
    said.set('About', contact.about);
    for (const [name, words] of sayOwn(contact.custom)) said.set(name, words);
    return said;
  };
  const isNow = describe(after);
  const differences = [...describe(before)]
    .filter(([label, was]) => isNow.get(label) !== was)
    .map(([label, was]) => `${label}: ${short(was)} → ${short(isNow.get(label) ?? '')}`);
  if (differences.length > 0) w.say(`${after.name}: ${differences.join('; ')}`);
  if (differences.length > 0)
    await writeSystemEntry(w, {
      body: differences.join('; '),
      contactId: after.id,
      companyId: after.companyId,
      userId: w.who.id,
    });
}

/** What a cell holds, for people to read. */
export function sayCell(value: CellValue, names: ReadonlyMap<string, string>): string {
  if (value === null) return '';
  if (Array.isArray(value)) return value.join(', ');
  return names.get(String(value)) ?? String(value);
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const short = (text: string) => (text === '' ? 'empty' : text.length > 80 ? `${text.slice(0, 79)}…` : text);
