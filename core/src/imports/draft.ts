import {
  checkInDays,
  contactCategory,
  zoneName,
  type ContactCategory,
  type CustomField,
  type CustomValue,
  type ImportField,
} from '@kettle/contract';
import { contactPlain, type ContactPlain } from '@kettle/contract/base/catalogues';
import type { FileFormats } from '@kettle/contract/imports/kinds';
import { readCustomValue, type ReadValue } from '../fields';
import { getCountries } from 'libphonenumber-js/max';
import * as z from 'zod';
import { companyKey, emailKey, nameKey, splitName } from '../duplicates';
import { readPhone } from '../phone';
import type { TextRow } from './csv';
import { readFileAmount, readFileDate, readFileNumber } from './formats';
import { plain } from './write-csv';

/** What a file says of the fields of the catalogue; empty where it says nothing. */
type PlainDraft = { readonly [Key in keyof ContactPlain]: NonNullable<ContactPlain[Key]> | '' };

export const noPlainDraft = contactPlain.each(() => '') as PlainDraft;

/** A contact as a file describes it, before it is one. */
export interface ContactDraft extends PlainDraft {
  readonly line: number;
  readonly givenName: string;
  readonly familyName: string;
  readonly company: string;
  readonly email: string;
  /** E.164, or empty. */
  readonly phone: string;
  readonly country: string;
  /** IANA name, or empty: the country's. */
  readonly zone: string;
  readonly city: string;
  readonly street: string;
  readonly postcode: string;
  readonly website: string;
  readonly standing: string;
  readonly note: string;
  readonly tags: readonly string[];
  /** Name or address of who is to own it. */
  readonly owner: string;
  readonly category: ContactCategory;
  /** Days, or null: the standing's. */
  readonly checkInDays: number | null;
  /** Values of custom fields, the person's and the lead's, by field id. */
  readonly custom: Readonly<Record<string, CustomValue>>;
}

export interface CellProblem {
  readonly column: string;
  readonly reason: string;
}

export interface JudgedDraft {
  readonly draft: ContactDraft;
  readonly problems: readonly CellProblem[];
}

export type RawContact = { [Field in Exclude<ImportField, 'ignore'>]?: string };

export interface JudgeSetting {
  /** Country for numbers without one and rows without a country, ISO 3166-1 alpha-2. */
  readonly homeCountry: string;
  /** What amounts of custom fields are in, ISO 4217. */
  readonly currency: string;
  readonly standings: readonly string[];
  /** Custom fields of contacts and of leads, and names of colleagues who can own one. */
  readonly fields: readonly CustomField[];
  readonly owners: readonly string[];
  /** How the file writes days and numbers. */
  readonly formats: FileFormats;
  readonly columnOf: (field: ImportField) => string;
}

const email = z.email();
const countryNames = new Map<string, string>();
for (const code of getCountries()) {
  countryNames.set(code.toLowerCase(), code);
  for (const language of ['en', 'de', 'nl', 'fr', 'es', 'pt', 'it', 'sv', 'pl'])
    countryNames.set(nameKey(new Intl.DisplayNames([language], { type: 'region' }).of(code) ?? code), code);
}
for (const [name, code] of [
  ['uk', 'GB'],
  ['england', 'GB'],
  ['scotland', 'GB'],
  ['wales', 'GB'],
  ['great britain', 'GB'],
  ['usa', 'US'],
  ['holland', 'NL'],
] as const)
  countryNames.set(name, code);

/** The fields of a row by its columns' mapping; a column mapped to nothing is left out. */
export function pickFields(row: TextRow, mapping: readonly ImportField[]): RawContact {
  const raw: RawContact = {};
  mapping.forEach((field, index) => {
    if (field !== 'ignore') raw[field] = plain((row.cells[index] ?? '').trim());
  });
  return raw;
}

/** Turns raw fields into a draft and tells every cell that is wrong, by the name its column has in the file. */
export function judgeContact(raw: RawContact, line: number, setting: JudgeSetting): JudgedDraft {
  const problems: CellProblem[] = [];
  const wrong = (field: ImportField, reason: string) =>
    problems.push({ column: setting.columnOf(field), reason });
  const country = readCountry(raw.country ?? '', setting, wrong);
  const [givenName, familyName] = readName(raw, country);
  const mail = emailKey(raw.email ?? '');
  if (!givenName && !familyName && !raw.company) wrong('fullName', $localize`neither a name nor a company`);
  if (mail && !email.safeParse(mail).success)
    wrong('email', $localize`“${raw.email}:email:” is not an e-mail address`);
  for (const [field, value] of Object.entries(raw) as [ImportField, string][])
    if (value.length > (field === 'note' ? 20_000 : 160))
      wrong(field, $localize`longer than its field can hold`);
  const standing = raw.standing ?? '';
  const known = setting.standings.find((name) => nameKey(name) === nameKey(standing));
  if (standing && !known)
    wrong(
      'standing',
      $localize`there is no standing “${standing}:standing:”; there are ${setting.standings.join(', ')}:join:`,
    );
  return {
    draft: {
      line,
      givenName,
      familyName,
      ...readPlain(raw, wrong),
      company: raw.company ?? '',
      email: mail,
      phone: readNumber(raw.phone ?? '', country, wrong),
      country,
      zone: readZone(raw.zone ?? '', wrong),
      city: raw.city ?? '',
      street: raw.street ?? '',
      postcode: raw.postcode ?? '',
      website: raw.website ?? '',
      standing: known ?? '',
      note: raw.note ?? '',
      tags: readTags(raw.tags ?? ''),
      category: readCategory(raw.category ?? '', wrong),
      checkInDays: readCheckIn(raw.checkInDays ?? '', wrong),
      owner: readOwner(raw.owner ?? '', setting, wrong),
      custom: readCustom(raw, setting, wrong),
    },
    problems,
  };
}

/** Texts as they are; a choice by its word, whatever its case. */
function readPlain(raw: RawContact, wrong: Wrong): PlainDraft {
  return contactPlain.each((key, { choices }) => {
    const text = raw[key] ?? '';
    if (choices === undefined || text === '') return text;
    const known = choices.find((choice) => choice.toLowerCase() === text.toLowerCase());
    if (known === undefined) wrong(key, $localize`“${text}:text:” is not ${orList(choices)}:choices:`);
    return known ?? '';
  }) as PlainDraft;
}

/** `hot, warm or cool` */
const orList = (words: readonly string[]) =>
  $localize`${words.slice(0, -1).join(', ')}:join: or ${words.at(-1)}:at:`;

/** Tags with commas or semicolons between. */
export function readTags(text: string): string[] {
  const tags = text.split(/[,;]/).map((tag) => tag.trim().toLowerCase().slice(0, 40));
  return [...new Set(tags.filter(Boolean))];
}

function readOwner(text: string, setting: JudgeSetting, wrong: Wrong): string {
  if (!text) return '';
  const known = setting.owners.find((name) => nameKey(name) === nameKey(text));
  if (!known)
    wrong(
      'owner',
      $localize`nobody here is called “${text}:text:”; there are ${setting.owners.join(', ')}:join:`,
    );
  return known ?? '';
}

function readCustom(raw: RawContact, setting: JudgeSetting, wrong: Wrong): Record<string, CustomValue> {
  const values: Record<string, CustomValue> = {};
  for (const field of setting.fields) {
    const column = `custom:${field.id}` as const;
    const text = raw[column] ?? '';
    if (!text) continue;
    const read = readOwnValue(text, field, setting);
    if (read.kind === 'wrong') wrong(column, read.reason);
    else values[field.id] = read.value;
  }
  return values;
}

/** As the file writes days and numbers; else as people type them. */
function readOwnValue(text: string, field: CustomField, { currency, formats }: JudgeSetting): ReadValue {
  const value =
    field.type === 'date'
      ? readFileDate(text, formats.dates)
      : field.type === 'number'
        ? (readFileNumber(text, formats.numbers)?.value ?? null)
        : field.type === 'money'
          ? readFileAmount(text, currency, formats.numbers)
          : null;
  return value === null ? readCustomValue(text, field, currency) : { kind: 'read', value };
}

type Wrong = (field: ImportField, reason: string) => void;

/** A country by its code or its name in the languages of exports; null for one that is not known. @example countryOf('Niederlande') is 'NL' */
export const countryOf = (text: string): string | null => countryNames.get(nameKey(text)) ?? null;

function readCountry(text: string, setting: JudgeSetting, wrong: Wrong): string {
  if (!text) return setting.homeCountry;
  const code = countryOf(text);
  if (!code)
    wrong('country', $localize`“${text}:text:” is not a country known here; use its two-letter code`);
  return code ?? setting.homeCountry;
}

function readZone(text: string, wrong: Wrong): string {
  const read = zoneName.safeParse(text);
  if (text !== '' && !read.success)
    wrong('zone', $localize`“${text}:text:” is not a time zone such as Europe/London`);
  return text !== '' && read.success ? read.data : '';
}

function readCategory(text: string, wrong: Wrong): ContactCategory {
  const read = contactCategory.safeParse(text.toLowerCase());
  if (text !== '' && !read.success)
    wrong('category', $localize`“${text}:text:” is neither person nor organisation`);
  return read.data ?? 'person';
}

function readCheckIn(text: string, wrong: Wrong): number | null {
  if (text === '') return null;
  const read = checkInDays.safeParse(Number(text));
  if (!read.success) wrong('checkInDays', $localize`“${text}:text:” is not a number of days from 1 to 730`);
  return read.data ?? null;
}

function readNumber(text: string, country: string, wrong: Wrong): string {
  if (!text) return '';
  const number = readPhone(text, country);
  if (!number) wrong('phone', $localize`“${text}:text:” is not a telephone number`);
  return number?.e164 ?? '';
}

function readName(raw: RawContact, country: string | null): [string, string] {
  if (raw.givenName || raw.familyName) return [raw.givenName ?? '', raw.familyName ?? ''];
  const { givenName, familyName } = splitName(raw.fullName ?? '', country);
  return [givenName, familyName];
}

/** What tells that two drafts, or a draft and a stored contact, are the same person. Strongest first. */
export function identityKeys(
  draft: Pick<ContactDraft, 'givenName' | 'familyName' | 'company' | 'email' | 'phone'>,
): string[] {
  const name = nameKey(`${draft.givenName} ${draft.familyName}`);
  const keys: string[] = [];
  if (draft.email) keys.push(`mail:${emailKey(draft.email)}`);
  if (draft.phone && name) keys.push(`phone:${draft.phone} ${name}`);
  if (!draft.email && !draft.phone) keys.push(`name:${name} @ ${companyKey(draft.company)}`);
  return keys;
}
