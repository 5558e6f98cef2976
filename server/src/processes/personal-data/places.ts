import type { DataPlace, RetentionKind, RetentionSettings } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';

/** What a table holds of people, and what becomes of it. */
interface Place {
  readonly words: string;
  readonly of: DataPlace['of'];
  /** How long: as long as the record, by a setting, or in words. */
  readonly kept: 'with the record' | RetentionKind | (string & {});
  /** What erasing a customer's person does with their rows. */
  readonly erasing: 'deleted' | 'emptied' | 'not touched' | (string & {});
}

const withPerson = { of: 'customers', kept: 'with the record', erasing: 'deleted' } as const;
const ofColleagues = { of: 'colleagues', kept: 'with the account', erasing: 'not touched' } as const;
const machinery = { of: 'nobody', kept: '', erasing: 'not touched' } as const;
const setUp = { of: 'nobody', kept: '', erasing: 'not touched' } as const;

/** Every table there is: a test compares it with the database, so that none is forgotten. */
export const places: Readonly<Record<string, Place>> = {
  contact: {
    ...withPerson,
    words: 'the person: name, company, addresses, numbers, country, notes',
    erasing: 'deleted; where a deal or agreement hangs on them, emptied to a nameless one',
  },
  contact_point: { ...withPerson, words: 'further addresses, numbers and links' },
  contact_company: { ...withPerson, words: 'further companies of a person' },
  contact_tag: { ...withPerson, words: 'tags' },
  contact_merge: { ...withPerson, words: 'who was merged into whom' },
  custom_value: { ...withPerson, words: 'own fields' },
  do_not_contact: { ...withPerson, words: 'what they do not want' },
  erased_mark: {
    words: 'keyed marks of addresses and numbers that were erased',
    of: 'nobody',
    kept: 'for good',
    erasing: 'written, so that a file does not bring them again',
  },
  not_duplicate: { ...withPerson, words: 'pairs that are not the same person' },
  channel_fact: { ...withPerson, words: 'how often they were tried and answered' },
  journal_entry: { ...withPerson, words: 'journal: calls, mails, meetings, notes', of: 'both' },
  entry_before: { ...withPerson, words: 'what a journal entry said before' },
  entry_comment: { ...withPerson, words: 'comments on journal entries', of: 'both' },
  entry_person: { ...withPerson, words: 'who else was there' },
  mail: { ...withPerson, words: 'mail, in and out', of: 'both' },
  mail_arrival: { ...withPerson, words: 'mail as it arrived, byte for byte', kept: 'rawMail' },
  text_message: { ...withPerson, words: 'texts' },
  phone_call: { ...withPerson, words: 'telephone calls: number, when, how long' },
  stirring: { ...withPerson, words: 'signs of life: opened, followed a link, called' },
  sales_lead: { ...withPerson, words: 'leads and consents' },
  lead_tag: { ...withPerson, words: 'tags of leads' },
  task: { ...withPerson, words: 'tasks', of: 'both' },
  run: { ...withPerson, words: 'cadences they are or were on' },
  run_step: { ...withPerson, words: 'steps of those cadences' },
  stored_file: { ...withPerson, words: 'files of a person' },
  file_part: { ...withPerson, words: 'what is in the files' },
  meeting: {
    ...withPerson,
    words: 'meetings',
    of: 'both',
    erasing: 'the person and the title are taken out',
  },
  deal_person: { ...withPerson, words: 'people of a deal and their part in it' },
  deal: {
    words: 'deals',
    of: 'customers',
    kept: 'with the record',
    erasing: 'kept, without the person: what was bought, when and for how much',
  },
  agreement: {
    words: 'agreements',
    of: 'customers',
    kept: 'with the record',
    erasing: 'kept, without the person: what was agreed',
  },
  company: {
    words: 'companies; of somebody in business alone, their own data',
    of: 'customers',
    kept: 'with the record',
    erasing: 'not touched: delete the company by itself',
  },
  site: { words: 'addresses of companies', of: 'customers', kept: 'with the record', erasing: 'not touched' },
  change_set: {
    words: 'what was changed, by whom',
    of: 'both',
    kept: '30 days',
    erasing: 'their names are taken out',
  },
  change_row: {
    words: 'rows before and after a change, for undoing',
    of: 'both',
    kept: '30 days',
    erasing: 'deleted',
  },
  event: { words: 'what happened to which record', of: 'both', kept: 'with the record', erasing: 'deleted' },
  notification: { words: 'notices to colleagues', of: 'both', kept: 'notifications', erasing: 'deleted' },
  import_batch: {
    words: 'files that were imported',
    of: 'customers',
    kept: '30 days',
    erasing: 'gone within 30 days',
  },
  import_row: {
    words: 'lines of those files',
    of: 'customers',
    kept: '30 days',
    erasing: 'deleted where their address stands',
  },
  bulk: { words: 'bulk changes', of: 'both', kept: 'with the record', erasing: 'not touched: names nobody' },
  bulk_item: {
    words: 'whom a bulk change was for',
    of: 'customers',
    kept: 'with the record',
    erasing: 'deleted',
  },
  wording: {
    words: 'templates, snippets and cadences as they were',
    of: 'colleagues',
    kept: 'with the record',
    erasing: 'not touched',
  },
  app_user: {
    ...ofColleagues,
    words: 'colleagues: name, address, role, hours, signature',
    kept: 'for good, so that the journal keeps its names',
  },
  session: { ...ofColleagues, words: 'where somebody is signed in', kept: 'until it ends' },
  second_factor: { ...ofColleagues, words: 'sealed secrets of second factors' },
  recovery_code: { ...ofColleagues, words: 'hashes of recovery codes' },
  account_link: {
    ...ofColleagues,
    words: 'hashes of links to choose a password',
    kept: 'until they are over',
  },
  security_event: {
    ...ofColleagues,
    words: 'log of security: ids and hashed addresses, no names',
    kept: 'securityLog',
  },
  sender_day: { ...ofColleagues, words: 'how many mails somebody sent on a day' },
  round_day: { ...ofColleagues, words: 'what a Round of a day was worth' },
  round_place: {
    ...ofColleagues,
    words: 'places that were moved by hand in a Round',
    of: 'both',
    erasing: 'gone the next day',
  },
  saved_view: { ...ofColleagues, words: 'own views' },
  favourite_view: { ...ofColleagues, words: 'favourite views' },
  landing_view: { ...ofColleagues, words: 'the view somebody begins with' },
  prompt_tick: { ...ofColleagues, words: 'who ticked what on a deal' },
  deal_colleague: { ...ofColleagues, words: 'teams of deals' },
  rate_limit: {
    ...ofColleagues,
    words: 'how often an address or account asked',
    of: 'both',
    kept: 'one day at most',
  },
  gateway_event: { ...machinery, words: 'ids of what gateways told' },
  job: { ...machinery, words: 'background work: ids of records' },
  setting: { ...setUp, words: 'settings of the organisation' },
  cadence: { ...setUp, words: 'cadences' },
  cadence_version: { ...setUp, words: 'versions of cadences' },
  template: { ...setUp, words: 'templates' },
  snippet: { ...setUp, words: 'snippets' },
  pipeline: { ...setUp, words: 'pipelines' },
  stage: { ...setUp, words: 'stages' },
  standing: { ...setUp, words: 'standings' },
  product: { ...setUp, words: 'products' },
  custom_field: { ...setUp, words: 'own fields: their names' },
  exchange_rate: { ...setUp, words: 'exchange rates' },
  web_form: { ...setUp, words: 'forms for the web' },
  deal_line: { ...setUp, words: 'product lines of deals' },
  deal_competitor: { ...setUp, words: 'competitors of deals: firms' },
  stage_stay: { ...setUp, words: 'how long a deal was in a stage' },
  brief_task: { ...setUp, words: 'which task a stage brought' },
  answer_tally: { ...machinery, words: 'how many tries bring an answer' },
  first_admin: { ...machinery, words: 'that the first admin was made' },
  mailbox_cursor: { ...machinery, words: 'how far mailboxes are read' },
  migration_lease: { ...machinery, words: 'who migrates' },
  migration_report: { ...machinery, words: 'what migrations mended' },
  migration_step: { ...machinery, words: 'how far a migration is' },
  schema_version: { ...machinery, words: 'which migrations ran' },
  secret: { ...machinery, words: 'keys of the installation' },
};

/** The same for a screen, with how long each is kept by the settings of now. */
export function sayPlaces(retention: RetentionSettings): DataPlace[] {
  return Object.entries(places).map(([table, { words, of, kept, erasing }]) => ({
    table,
    words,
    of,
    erasing,
    keptFor: kept in retention ? sayDays(retention[kept as RetentionKind]) : kept,
  }));
}

const sayDays = (days: number | null) => (days === null ? 'with the record' : sayCount(days, 'day|days'));
