import type { DataPlace, RetentionKind, RetentionSettings } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { saidNow } from '../../platform/language/language';

/** What a table holds of people, and what becomes of it. */
interface Place {
  readonly words: string;
  readonly of: DataPlace['of'];
  /** How long: as long as the record, by a setting, or in words. */
  readonly kept: 'with the record' | RetentionKind | (string & {});
  /** What erasing a customer's person does with their rows. */
  readonly erasing: 'deleted' | 'emptied' | 'not touched' | (string & {});
}

const withPerson = { of: 'customers', kept: $localize`with the record`, erasing: 'deleted' } as const;
const ofColleagues = {
  of: 'colleagues',
  kept: $localize`with the account`,
  erasing: $localize`not touched`,
} as const;
const machinery = { of: 'nobody', kept: '', erasing: $localize`not touched` } as const;
const setUp = { of: 'nobody', kept: '', erasing: $localize`not touched` } as const;

/** Every table there is: a test compares it with the database, so that none is forgotten. */
export const places: Readonly<Record<string, Place>> = {
  contact: {
    ...withPerson,
    words: $localize`the person: name, company, addresses, numbers, country, notes`,
    erasing: $localize`deleted; where a deal or agreement hangs on them, emptied to a nameless one`,
  },
  contact_point: { ...withPerson, words: $localize`further addresses, numbers and links` },
  contact_company: { ...withPerson, words: $localize`further companies of a person` },
  contact_tag: { ...withPerson, words: 'tags' },
  contact_merge: { ...withPerson, words: $localize`who was merged into whom` },
  custom_value: { ...withPerson, words: $localize`own fields` },
  do_not_contact: { ...withPerson, words: $localize`what they do not want` },
  erased_mark: {
    words: $localize`keyed marks of addresses and numbers that were erased`,
    of: 'nobody',
    kept: $localize`for good`,
    erasing: $localize`written, so that a file does not bring them again`,
  },
  not_duplicate: { ...withPerson, words: $localize`pairs that are not the same person` },
  channel_fact: { ...withPerson, words: $localize`how often they were tried and answered` },
  company_count: { ...machinery, words: $localize`what happened with companies, counted` },
  deal_count: { ...machinery, words: $localize`what happened about deals, counted` },
  learned_minutes: { ...withPerson, words: $localize`how long acts take with them`, of: 'both' },
  contact_count: { ...withPerson, words: $localize`what happened with them, counted` },
  journal_entry: { ...withPerson, words: 'journal: calls, mails, meetings, notes', of: 'both' },
  entry_before: { ...withPerson, words: $localize`what a journal entry said before` },
  entry_comment: { ...withPerson, words: $localize`comments on journal entries`, of: 'both' },
  entry_thanks: { ...withPerson, words: $localize`who thanked for a journal entry`, of: 'colleagues' },
  talk: { ...withPerson, words: $localize`what colleagues say to each other about a record`, of: 'both' },
  quota: { ...ofColleagues, words: $localize`what somebody is to win in a month` },
  api_key: {
    ...ofColleagues,
    words: $localize`API keys of colleagues: names and scopes`,
    kept: $localize`for good, so that it can be said what each was for`,
  },
  hook: { ...machinery, words: $localize`web hooks: their addresses` },
  house_rule: { ...machinery, words: $localize`house rules` },
  house_rule_event: { ...machinery, words: $localize`what house rules wait for` },
  rule_firing: {
    words: $localize`what house rules did, to which record`,
    of: 'customers',
    kept: $localize`one year`,
    erasing: 'deleted',
  },
  hook_event: { ...machinery, words: $localize`what web hooks are told` },
  hook_secret: { ...machinery, words: $localize`sealed secrets of web hooks` },
  hook_call: { ...machinery, words: $localize`what was sent by web hooks: ids alone` },
  home: { ...ofColleagues, words: $localize`the cards of somebody’s Home` },
  entry_person: { ...withPerson, words: $localize`who else was there` },
  mail: { ...withPerson, words: $localize`mail, in and out`, of: 'both' },
  mail_arrival: { ...withPerson, words: $localize`mail as it arrived, byte for byte`, kept: 'rawMail' },
  text_message: { ...withPerson, words: 'texts' },
  phone_call: { ...withPerson, words: $localize`telephone calls: number, when, how long` },
  stirring: { ...withPerson, words: $localize`signs of life: opened, followed a link, called` },
  sales_lead: { ...withPerson, words: $localize`leads and consents` },
  lead_tag: { ...withPerson, words: $localize`tags of leads` },
  task: { ...withPerson, words: 'tasks', of: 'both' },
  run: { ...withPerson, words: $localize`cadences they are or were on` },
  run_step: { ...withPerson, words: $localize`steps of those cadences` },
  stored_file: { ...withPerson, words: $localize`files of a person` },
  file_part: { ...withPerson, words: $localize`what is in the files` },
  appointment: {
    ...withPerson,
    words: $localize`appointments`,
    of: 'both',
    erasing: $localize`deleted; of what only names them in a colleague’s day, their name and the title`,
  },
  invited: {
    words: $localize`what those who are invited to an appointment were last told`,
    of: 'both',
    kept: $localize`with the record`,
    erasing: $localize`the title and the place are taken out`,
  },
  invitation: { ...withPerson, words: $localize`invitations to appointments, and what they answered` },
  received_invitation: { ...withPerson, words: $localize`invitations they sent, and what was answered` },
  offered_times: { ...withPerson, words: $localize`times they were asked to choose among` },
  appointment_guest: { ...withPerson, words: $localize`appointments they come to with somebody else` },
  deal_person: { ...withPerson, words: $localize`people of a deal and their part in it` },
  deal: {
    words: 'deals',
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was bought, when and for how much`,
  },
  agreement: {
    words: 'agreements',
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was agreed`,
  },
  agreement_term: {
    words: $localize`the terms of agreements`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was agreed`,
  },
  agreement_change: {
    words: $localize`what an agreement brings more or less, and why`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was agreed`,
  },
  agreement_line: {
    words: $localize`what was bought with an agreement`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was bought`,
  },
  agreement_value: { ...machinery, words: $localize`what agreements bring in a year over time` },
  company: {
    words: $localize`companies; of somebody in business alone, their own data`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`not touched: delete the company by itself`,
  },
  site: {
    words: $localize`addresses of companies`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`not touched`,
  },
  change_set: {
    words: $localize`what was changed, by whom`,
    of: 'both',
    kept: $localize`30 days`,
    erasing: $localize`their names are taken out`,
  },
  change_row: {
    words: $localize`rows before and after a change, for undoing`,
    of: 'both',
    kept: $localize`30 days`,
    erasing: 'deleted',
  },
  event: {
    words: $localize`what happened to which record`,
    of: 'both',
    kept: $localize`with the record`,
    erasing: 'deleted',
  },
  notification: {
    words: $localize`notices to colleagues`,
    of: 'both',
    kept: 'notifications',
    erasing: 'deleted',
  },
  import_batch: {
    words: $localize`files that were imported`,
    of: 'customers',
    kept: $localize`30 days`,
    erasing: $localize`gone within 30 days`,
  },
  import_row: {
    words: $localize`lines of those files`,
    of: 'customers',
    kept: $localize`30 days`,
    erasing: $localize`deleted where their address stands`,
  },
  bulk: {
    words: $localize`bulk changes`,
    of: 'both',
    kept: $localize`with the record`,
    erasing: $localize`not touched: names nobody`,
  },
  bulk_item: {
    words: $localize`whom a bulk change was for`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: 'deleted',
  },
  wording: {
    words: $localize`templates, snippets and cadences as they were`,
    of: 'colleagues',
    kept: $localize`with the record`,
    erasing: $localize`not touched`,
  },
  app_user: {
    ...ofColleagues,
    words: 'colleagues: name, address, role, hours, signature',
    kept: $localize`for good, so that the journal keeps its names`,
  },
  outside_calendar: { ...ofColleagues, words: $localize`calendars elsewhere: their addresses` },
  outside_login: { ...ofColleagues, words: $localize`sealed passwords of calendars elsewhere` },
  outside_event: {
    ...ofColleagues,
    words: $localize`what is in a colleague’s calendars elsewhere`,
    kept: $localize`as long as it is there`,
  },
  outside_copy: {
    words: $localize`appointments as they were last written into a calendar elsewhere`,
    of: 'both',
    kept: $localize`with the record`,
    erasing: 'deleted',
  },
  calendar_feed: { ...ofColleagues, words: $localize`a hash of the address of their calendar` },
  session: { ...ofColleagues, words: $localize`where somebody is signed in`, kept: $localize`until it ends` },
  second_factor: { ...ofColleagues, words: $localize`sealed secrets of second factors` },
  recovery_code: { ...ofColleagues, words: $localize`hashes of recovery codes` },
  account_link: {
    ...ofColleagues,
    words: $localize`hashes of links to choose a password`,
    kept: $localize`until they are over`,
  },
  security_event: {
    ...ofColleagues,
    words: $localize`log of security: ids and hashed addresses, no names`,
    kept: 'securityLog',
  },
  sender_day: { ...ofColleagues, words: $localize`how many mails somebody sent on a day` },
  round_revision: { ...machinery, words: $localize`which change a Round stands at` },
  round_day: { ...ofColleagues, words: $localize`what a Round of a day was worth` },
  round_place: {
    ...ofColleagues,
    words: $localize`places that were moved by hand in a Round`,
    of: 'both',
    erasing: $localize`gone the next day`,
  },
  saved_view: { ...ofColleagues, words: $localize`own views` },
  report_mailing: { ...ofColleagues, words: $localize`reports that are sent each Monday` },
  report_mailing_to: { ...ofColleagues, words: $localize`whom a report is sent to` },
  favourite_view: { ...ofColleagues, words: $localize`favourite views` },
  absence: { ...ofColleagues, words: $localize`when colleagues are away` },
  told_choice: { ...ofColleagues, words: $localize`how somebody is told of what` },
  landing_view: { ...ofColleagues, words: $localize`the view somebody begins with` },
  prompt_tick: { ...ofColleagues, words: $localize`who ticked what on a deal` },
  deal_colleague: { ...ofColleagues, words: $localize`teams of deals` },
  rate_limit: {
    ...ofColleagues,
    words: $localize`how often an address or account asked`,
    of: 'both',
    kept: $localize`one day at most`,
  },
  gateway_event: { ...machinery, words: $localize`ids of what gateways told` },
  job: { ...machinery, words: $localize`background work: ids of records` },
  setting: { ...setUp, words: $localize`settings of the organisation` },
  cadence: { ...setUp, words: 'cadences' },
  cadence_version: { ...setUp, words: $localize`versions of cadences` },
  template: { ...setUp, words: 'templates' },
  snippet: { ...setUp, words: 'snippets' },
  pipeline: { ...setUp, words: 'pipelines' },
  stage: { ...setUp, words: 'stages' },
  standing: { ...setUp, words: 'standings' },
  product: { ...setUp, words: 'products' },
  custom_field: { ...setUp, words: $localize`own fields: their names` },
  exchange_rate: { ...setUp, words: $localize`exchange rates` },
  web_form: { ...setUp, words: $localize`forms for the web` },
  quote: {
    words: 'quotes',
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without the person: what was offered, and whether it was accepted`,
  },
  invoice: {
    words: $localize`invoices and credit notes`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept without the person at the customer: what was to be paid`,
  },
  payment: { ...setUp, words: $localize`what was paid` },
  quote_line: { ...setUp, words: $localize`what quotes offer` },
  quote_version: {
    words: $localize`quotes as they were sent`,
    of: 'customers',
    kept: $localize`with the record`,
    erasing: $localize`kept, without whom it was for`,
  },
  quote_question: { ...withPerson, words: $localize`questions about quotes` },
  number_series: { ...machinery, words: $localize`the last number of quotes` },
  deal_line: { ...setUp, words: $localize`product lines of deals` },
  deal_competitor: { ...setUp, words: $localize`competitors of deals: firms` },
  stage_stay: { ...setUp, words: $localize`how long a deal was in a stage` },
  brief_task: { ...setUp, words: $localize`which task a stage brought` },
  deal_mark: { ...machinery, words: $localize`what an open deal was worth, day by day` },
  learned: { ...machinery, words: $localize`what deals and agreements are usually worth` },
  answer_rate: { ...machinery, words: $localize`at which hour tries are answered` },
  answer_tally: { ...machinery, words: $localize`how many tries bring an answer` },
  first_admin: { ...machinery, words: $localize`that the first admin was made` },
  mailbox_cursor: { ...machinery, words: $localize`how far mailboxes are read` },
  migration_lease: { ...machinery, words: $localize`who migrates` },
  migration_report: { ...machinery, words: $localize`what migrations mended` },
  migration_step: { ...machinery, words: $localize`how far a migration is` },
  schema_version: { ...machinery, words: $localize`which migrations ran` },
  secret: { ...machinery, words: $localize`keys of the installation` },
  turn: { ...machinery, words: $localize`what only one does at a time` },
};

/** The same for a screen, with how long each is kept by the settings of now. */
export function sayPlaces(retention: RetentionSettings): DataPlace[] {
  return Object.entries(places).map(([table, { words, of, kept, erasing }]) => ({
    table,
    words: saidNow(words),
    of,
    erasing: saidNow(erasing),
    keptFor: kept in retention ? sayDays(retention[kept as RetentionKind]) : saidNow(kept),
  }));
}

const sayDays = (days: number | null) =>
  days === null ? $localize`with the record` : sayCount(days, $localize`day|days`);
