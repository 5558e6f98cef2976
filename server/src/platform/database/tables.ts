import type { ChangeTopic } from '@kettle/contract';

/** What the application knows of a table beside its columns. */
export interface TableSpec {
  /** What open browsers call a change of its rows. */
  readonly topic: ChangeTopic;
  /** Records of these kinds too, when the row's record may be any of them. */
  readonly alsoTopics?: readonly ChangeTopic[];
  /** The column that names the record a row is a part of; left out, the row is the record. */
  readonly of?: string;
  /** Columns that are computed from other rows: never part of a change set, derived again instead. */
  readonly derived?: readonly string[];
  /** Columns put back by an undo only while they are as the change left them: clocks that every change sets. */
  readonly soft?: readonly string[];
  /** Columns beside the ids that say, of a new row, what happened. */
  readonly says?: readonly string[];
  /** Its rows are history: an undo marks them as removed in place of deleting them. */
  readonly removedBy?: string;
}

/** Tables whose rows people change. Every write to them in a unit of work is captured and can be undone. */
export const tables = {
  app_user: { topic: 'user', derived: ['password_hash'] },
  agreement: {
    topic: 'agreement',
    // What its chain of terms is today.
    derived: [
      'state',
      'decision',
      'term_n',
      'term_starts_on',
      'ends_on',
      'notice_deadline_on',
      'lead_on',
      'next_on',
      'yearly_minor',
      'home_minor',
      'yearly_home_minor',
    ],
  },
  agreement_change: { topic: 'agreement', of: 'agreement_id' },
  agreement_line: { topic: 'agreement', of: 'agreement_id' },
  agreement_term: { topic: 'agreement', of: 'agreement_id' },
  appointment: { topic: 'appointment', derived: ['remind_at'] },
  offered_times: { topic: 'appointment' },
  outside_calendar: {
    topic: 'appointment',
    derived: ['etag', 'sync_token', 'whole_at', 'read_at', 'failing_since', 'failure', 'is_cut'],
    soft: ['changed_at'],
  },
  appointment_guest: { topic: 'appointment', of: 'appointment_id' },
  brief_task: { topic: 'deal', of: 'deal_id' },
  cadence: { topic: 'cadence' },
  cadence_version: { topic: 'cadence', of: 'cadence_id' },
  company: { topic: 'company' },
  contact: {
    topic: 'contact',
    derived: [
      'last_touch_at',
      'last_touch_kind',
      'last_touch_counts',
      'last_conversation_at',
      'waiting_since',
      'next_touch_due',
      'next_step_on',
      'next_step_channel',
      'next_step_at',
      'search_text',
    ],
  },
  contact_company: { topic: 'contact', of: 'contact_id' },
  contact_merge: { topic: 'contact', of: 'kept_id' },
  contact_point: { topic: 'contact', of: 'contact_id' },
  contact_tag: { topic: 'contact', of: 'contact_id' },
  custom_field: { topic: 'setting' },
  custom_value: { topic: 'contact', alsoTopics: ['company', 'deal', 'lead'], of: 'record_id' },
  deal: {
    topic: 'deal',
    derived: [
      'home_minor',
      'last_touch_at',
      'last_touch_kind',
      'next_step_on',
      'next_step_channel',
      'next_step_at',
      'loose_since',
    ],
    soft: ['changed_at'],
  },
  deal_colleague: { topic: 'deal', of: 'deal_id' },
  deal_competitor: { topic: 'deal', of: 'deal_id' },
  deal_line: { topic: 'deal', of: 'deal_id' },
  deal_person: { topic: 'deal', of: 'deal_id' },
  do_not_contact: { topic: 'contact', of: 'contact_id' },
  entry_before: { topic: 'journal', of: 'entry_id' },
  entry_comment: { topic: 'journal', of: 'entry_id' },
  entry_person: { topic: 'journal', of: 'entry_id' },
  entry_thanks: { topic: 'journal', of: 'entry_id' },
  exchange_rate: { topic: 'setting' },
  home: { topic: 'home' },
  hook: { topic: 'hook', derived: ['tried_at', 'failing_since', 'failure'], soft: ['changed_at'] },
  hook_event: { topic: 'hook', of: 'hook_id' },
  house_rule: { topic: 'rule', derived: ['looked_on'], soft: ['changed_at'] },
  house_rule_event: { topic: 'rule', of: 'rule_id' },
  quota: { topic: 'quota', of: 'user_id' },
  talk: { topic: 'talk' },
  favourite_view: { topic: 'view', of: 'view_id' },
  journal_entry: {
    topic: 'journal',
    soft: ['edited_at'],
    removedBy: 'removed_at',
    says: ['kind', 'at', 'direction', 'counts', 'outcome_id', 'removed_at'],
  },
  absence: { topic: 'user', of: 'user_id' },
  landing_view: { topic: 'view', of: 'view_id' },
  lead_tag: { topic: 'lead', of: 'lead_id' },
  mail: { topic: 'mail', says: ['direction'] },
  received_invitation: { topic: 'mail', of: 'mail_id' },
  not_duplicate: { topic: 'contact', of: 'one_id' },
  phone_call: { topic: 'call' },
  pipeline: { topic: 'pipeline' },
  product: { topic: 'setting' },
  prompt_tick: { topic: 'deal', of: 'deal_id' },
  round_place: { topic: 'task', of: 'user_id' },
  run: { topic: 'run' },
  run_step: { topic: 'run', of: 'run_id' },
  sales_lead: { topic: 'lead', derived: ['status', 'status_since'] },
  saved_view: { topic: 'view' },
  quote: { topic: 'quote', derived: ['number', 'n'] },
  quote_line: { topic: 'quote', of: 'quote_id' },
  quote_question: { topic: 'quote', of: 'quote_id' },
  report_mailing: { topic: 'view' },
  report_mailing_to: { topic: 'view', of: 'mailing_id' },
  setting: { topic: 'setting' },
  site: { topic: 'company', of: 'company_id' },
  snippet: { topic: 'template' },
  stage: { topic: 'pipeline', of: 'pipeline_id' },
  stage_stay: { topic: 'deal', of: 'deal_id' },
  standing: { topic: 'setting' },
  stirring: { topic: 'stirring' },
  stored_file: { topic: 'file', removedBy: 'removed_at' },
  task: { topic: 'task', says: ['channel'] },
  template: { topic: 'template' },
  text_message: { topic: 'call' },
  told_choice: { topic: 'notification', of: 'user_id' },
  wording: { topic: 'template', alsoTopics: ['cadence'] },
  web_form: { topic: 'form', derived: ['trapped'] },
} as const satisfies Record<string, TableSpec>;

export type CapturedTable = keyof typeof tables;

export const specOf = (table: string): TableSpec | undefined =>
  Object.hasOwn(tables, table) ? tables[table as CapturedTable] : undefined;

/** The machinery beside them: what nobody changes by hand, or what is counted from the rest. Not captured. */
export const machinery = [
  'api_key',
  'agreement_value',
  'answer_rate',
  'answer_tally',
  'bulk',
  'bulk_item',
  'calendar_feed',
  'change_row',
  'change_set',
  'channel_fact',
  'contact_count',
  'company_count',
  'deal_count',
  'deal_mark',
  'erased_mark',
  'event',
  'file_part',
  'first_admin',
  'gateway_event',
  'hook_call',
  'hook_secret',
  'import_batch',
  'import_row',
  'invitation',
  'invited',
  'job',
  'learned',
  'learned_minutes',
  'mail_arrival',
  'mailbox_cursor',
  'migration_lease',
  'migration_report',
  'migration_step',
  'notification',
  'outside_copy',
  'outside_event',
  'outside_login',
  'number_series',
  'quote_version',
  'rate_limit',
  'rule_firing',
  'round_day',
  'round_revision',
  'schema_version',
  'secret',
  'sender_day',
  'session',
  'account_link',
  'second_factor',
  'recovery_code',
  'security_event',
  'turn',
] as const;
