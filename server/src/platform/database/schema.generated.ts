// Written from the migrated schema by `npm run schema`; a test fails when it is out of date.
import type {
  AgreementId,
  ApiKeyId,
  AppointmentId,
  BulkId,
  CadenceId,
  CadenceVersionId,
  ChangeSetId,
  CommentId,
  CompanyId,
  ContactId,
  CustomFieldId,
  DealId,
  EntryId,
  FileId,
  FormId,
  HookId,
  ImportId,
  InvoiceId,
  LeadId,
  MailId,
  MergeId,
  NotificationId,
  OutsideCalendarId,
  PhoneCallId,
  PipelineId,
  ProductId,
  QuoteId,
  ReportMailingId,
  RuleFiringId,
  RuleId,
  RunId,
  SiteId,
  SnippetId,
  StageId,
  StandingId,
  StirringId,
  TalkId,
  TaskId,
  TemplateId,
  TextId,
  UserId,
  ViewId,
  WordingId,
} from '@kettle/contract';
import type { IdBytes } from '../ids';

/** A DATETIME(3) or TIMESTAMP in UTC, as the driver gives it: `2026-11-24 09:15:00.000`. `instantOf` makes an instant of it. */
export type SqlInstant = string;
/** A DECIMAL as text, so that no digit is lost. */
export type SqlDecimal = string;
/** A BIGINT: a number, or text where a number would lose digits. `wholeNumber` makes a number of it. */
export type SqlWhole = number | string;
/** JSON as text, not read yet. */
export type SqlJson = string;

/** Every table with the columns of its rows. */
export interface Tables {
  absence: {
    id: IdBytes<string>;
    user_id: IdBytes<UserId>;
    from_on: string;
    to_on: string;
    stand_in_id: IdBytes<UserId> | null;
    created_at: SqlInstant;
  };
  account_link: {
    token_hash: Buffer;
    user_id: IdBytes<UserId>;
    purpose: 'invitation' | 'reset';
    created_at: SqlInstant;
    expires_at: SqlInstant;
  };
  agreement: {
    id: IdBytes<AgreementId>;
    name: string;
    company_id: IdBytes<CompanyId> | null;
    contact_id: IdBytes<ContactId> | null;
    deal_id: IdBytes<DealId> | null;
    owner_id: IdBytes<UserId>;
    state: 'ahead' | 'running' | 'over' | 'ended';
    decision: 'open' | 'renewed' | 'leaving';
    starts_on: string;
    term_months: number;
    value_minor: SqlWhole;
    currency: string;
    home_minor: SqlWhole | null;
    notice_days: number;
    lead_days: number;
    renews_itself: number;
    ends_on: string;
    notice_deadline_on: string;
    lead_on: string;
    created_at: SqlInstant;
    archived_at: SqlInstant | null;
    version: number;
    term_n: number;
    term_starts_on: string | null;
    yearly_minor: SqlWhole;
    yearly_home_minor: SqlWhole | null;
    uplift_kind: 'none' | 'percent' | 'amount';
    uplift_by: SqlWhole;
    leaves_on: string | null;
    notice_on: string | null;
    ended_by: 'customer' | 'us' | null;
    end_reason: string | null;
    end_words: string;
    signer_id: IdBytes<ContactId> | null;
    check_in_months: number | null;
    check_in_on: string | null;
    led_n: number;
    next_on: string | null;
  };
  agreement_change: {
    id: IdBytes<string>;
    agreement_id: IdBytes<AgreementId>;
    on_day: string;
    value_minor: SqlWhole;
    words: string;
    user_id: IdBytes<UserId>;
    created_at: SqlInstant;
  };
  agreement_line: {
    id: IdBytes<string>;
    agreement_id: IdBytes<AgreementId>;
    position: number;
    product_id: IdBytes<ProductId> | null;
    name: string;
    quantity: SqlDecimal;
    price_minor: SqlWhole;
    discount_percent: SqlDecimal;
    billing: 'once' | 'yearly';
  };
  agreement_term: {
    agreement_id: IdBytes<AgreementId>;
    n: number;
    starts_on: string;
    ends_on: string;
    months: number | null;
    value_minor: SqlWhole;
    yearly_minor: SqlWhole;
    how: 'first' | 'rolled' | 'renewed';
    deal_id: IdBytes<DealId> | null;
    renewal_deal_id: IdBytes<DealId> | null;
    created_at: SqlInstant;
  };
  agreement_value: {
    agreement_id: IdBytes<AgreementId>;
    from_on: string;
    yearly_minor: SqlWhole;
  };
  answer_rate: {
    channel: string;
    standing_group: string;
    weekday: number;
    hour: number;
    tried: number;
    answered: number;
  };
  answer_tally: {
    tries: number;
    cases: number;
    answered: number;
  };
  api_key: {
    id: IdBytes<ApiKeyId>;
    user_id: IdBytes<UserId>;
    name: string;
    token_hash: Buffer | null;
    token_start: string | null;
    scopes: SqlJson;
    made_at: SqlInstant;
    last_on: string | null;
    used_at: SqlInstant | null;
    withdrawn_at: SqlInstant | null;
  };
  appointment: {
    id: IdBytes<AppointmentId>;
    owner_id: IdBytes<UserId>;
    task_id: IdBytes<TaskId> | null;
    channel: 'meeting' | 'visit' | null;
    title: string;
    starts_at: SqlInstant;
    ends_at: SqlInstant;
    place: string | null;
    travel_minutes: number;
    travel_after_minutes: number;
    note: string | null;
    contact_id: IdBytes<ContactId> | null;
    deal_id: IdBytes<DealId> | null;
    state: 'planned' | 'held' | 'missed' | 'called-off';
    remind_minutes: number | null;
    remind_at: SqlInstant | null;
    created_at: SqlInstant;
    version: number;
    invites: number;
  };
  appointment_guest: {
    id: IdBytes<string>;
    appointment_id: IdBytes<AppointmentId>;
    contact_id: IdBytes<ContactId> | null;
    user_id: IdBytes<UserId> | null;
  };
  app_user: {
    id: IdBytes<UserId>;
    name: string;
    email: string;
    role: 'rep' | 'manager' | 'admin';
    manager_id: IdBytes<UserId> | null;
    password_hash: string | null;
    zone: string;
    country: string;
    hours: SqlJson;
    signature: string;
    demo_words: string | null;
    deactivated_at: SqlInstant | null;
    created_at: SqlInstant;
    version: number;
    start_words: string | null;
    start_latitude: SqlDecimal | null;
    start_longitude: SqlDecimal | null;
    digest_minute: number | null;
    quiet_from_minute: number | null;
    quiet_to_minute: number | null;
  };
  brief_task: {
    deal_id: IdBytes<DealId>;
    brief_task_id: IdBytes<string>;
    stage_id: IdBytes<StageId>;
    task_id: IdBytes<TaskId>;
    made_as: string;
    is_withdrawn: number;
  };
  bulk: {
    id: IdBytes<BulkId>;
    user_id: IdBytes<UserId>;
    words: string;
    act: SqlJson;
    state: 'running' | 'done' | 'undoing' | 'undone';
    created_at: SqlInstant;
    set_id: IdBytes<ChangeSetId> | null;
  };
  bulk_item: {
    bulk_id: IdBytes<BulkId>;
    contact_id: IdBytes<ContactId>;
    position: number;
    state: 'waiting' | 'changed' | 'same' | 'failed' | 'undone' | 'kept';
    reason: string | null;
  };
  cadence: {
    id: IdBytes<CadenceId>;
    name: string;
    current_version_id: IdBytes<CadenceVersionId>;
    created_at: SqlInstant;
    retired_at: SqlInstant | null;
    version: number;
  };
  cadence_version: {
    id: IdBytes<CadenceVersionId>;
    cadence_id: IdBytes<CadenceId>;
    number: number;
    definition: SqlJson;
    created_at: SqlInstant;
  };
  calendar_feed: {
    user_id: IdBytes<UserId>;
    token_hash: Buffer;
    created_at: SqlInstant;
    read_at: SqlInstant | null;
  };
  change_row: {
    set_id: IdBytes<ChangeSetId>;
    position: number;
    table_name: string;
    row_key: string;
    op: 'insert' | 'update' | 'delete';
    refs: string;
    was: string | null;
    became: string | null;
  };
  change_set: {
    id: IdBytes<ChangeSetId>;
    parent_id: IdBytes<string> | null;
    act: string;
    words: string;
    user_id: IdBytes<UserId> | null;
    at: SqlInstant;
    request_hash: Buffer | null;
    result: SqlJson | null;
    undoes_id: IdBytes<ChangeSetId> | null;
    undone_by_id: IdBytes<ChangeSetId> | null;
  };
  channel_fact: {
    contact_id: IdBytes<ContactId>;
    channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other';
    tries_since_conversation: number;
    tried: number;
    answered: number;
  };
  company: {
    id: IdBytes<CompanyId>;
    name: string;
    name_key: string;
    trade: string | null;
    website: string | null;
    street: string | null;
    postcode: string | null;
    city: string | null;
    country: string;
    zone: string;
    about: string;
    owner_id: IdBytes<UserId> | null;
    created_at: SqlInstant;
    archived_at: SqlInstant | null;
    version: number;
    host_back: string | null;
    latitude: SqlDecimal | null;
    longitude: SqlDecimal | null;
  };
  company_count: {
    id: IdBytes<CompanyId>;
    mail_in_many: number;
    mail_in_first: SqlInstant | null;
    mail_in_last: SqlInstant | null;
    mail_out_many: number;
    mail_out_first: SqlInstant | null;
    mail_out_last: SqlInstant | null;
    call_many: number;
    call_first: SqlInstant | null;
    call_last: SqlInstant | null;
    text_many: number;
    text_first: SqlInstant | null;
    text_last: SqlInstant | null;
    meeting_many: number;
    meeting_first: SqlInstant | null;
    meeting_last: SqlInstant | null;
    conversation_many: number;
    conversation_first: SqlInstant | null;
    conversation_last: SqlInstant | null;
    note_many: number;
    note_first: SqlInstant | null;
    note_last: SqlInstant | null;
  };
  contact: {
    id: IdBytes<ContactId>;
    category: 'person' | 'organisation';
    given_name: string;
    family_name: string;
    sort_name: string;
    job_title: string | null;
    company_id: IdBytes<CompanyId> | null;
    site_id: IdBytes<SiteId> | null;
    company_name: string | null;
    email: string | null;
    email_label: string | null;
    phone: string | null;
    phone_label: string | null;
    phone_unusable: number;
    email_unusable: number;
    country: string;
    zone: string;
    zone_by_hand: number;
    standing_id: IdBytes<StandingId>;
    standing_set_at: SqlInstant;
    check_in_days: number | null;
    owner_id: IdBytes<UserId> | null;
    source: string | null;
    warmth: 'hot' | 'warm' | 'cool' | null;
    about: string;
    import_id: IdBytes<ImportId> | null;
    last_touch_at: SqlInstant | null;
    last_touch_kind: string | null;
    last_touch_counts: 'conversation' | 'attempt' | 'none' | null;
    last_conversation_at: SqlInstant | null;
    waiting_since: SqlInstant | null;
    next_touch_due: string | null;
    next_step_on: string | null;
    next_step_channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other' | null;
    next_step_at: SqlInstant | null;
    check_in_sort: string;
    next_step_sort: string;
    search_text: string;
    created_at: SqlInstant;
    archived_at: SqlInstant | null;
    version: number;
    display_name: string;
    email_back: string | null;
  };
  contact_company: {
    contact_id: IdBytes<ContactId>;
    company_id: IdBytes<CompanyId>;
    role: string | null;
  };
  contact_count: {
    id: IdBytes<ContactId>;
    mail_in_many: number;
    mail_in_first: SqlInstant | null;
    mail_in_last: SqlInstant | null;
    mail_out_many: number;
    mail_out_first: SqlInstant | null;
    mail_out_last: SqlInstant | null;
    call_many: number;
    call_first: SqlInstant | null;
    call_last: SqlInstant | null;
    text_many: number;
    text_first: SqlInstant | null;
    text_last: SqlInstant | null;
    meeting_many: number;
    meeting_first: SqlInstant | null;
    meeting_last: SqlInstant | null;
    conversation_many: number;
    conversation_first: SqlInstant | null;
    conversation_last: SqlInstant | null;
    note_many: number;
    note_first: SqlInstant | null;
    note_last: SqlInstant | null;
  };
  contact_merge: {
    id: IdBytes<MergeId>;
    kept_id: IdBytes<ContactId>;
    gone_id: IdBytes<ContactId>;
    user_id: IdBytes<UserId>;
    gone_name: string;
    merged_at: SqlInstant;
  };
  contact_point: {
    id: IdBytes<string>;
    contact_id: IdBytes<ContactId>;
    kind: 'email' | 'phone' | 'link';
    label: string | null;
    value: string;
    position: number;
  };
  contact_tag: {
    contact_id: IdBytes<ContactId>;
    tag: string;
  };
  custom_field: {
    id: IdBytes<CustomFieldId>;
    subject: 'contact' | 'company' | 'deal' | 'lead';
    name: string;
    type: 'text' | 'number' | 'money' | 'date' | 'choice' | 'yes-no' | 'link' | 'person';
    choices: SqlJson;
    position: number;
    retired_at: SqlInstant | null;
    version: number;
  };
  custom_value: {
    record_id: IdBytes<string>;
    field_id: IdBytes<CustomFieldId>;
    text_value: string | null;
    number_value: SqlDecimal | null;
    date_value: string | null;
    person_id: IdBytes<ContactId> | null;
  };
  deal: {
    id: IdBytes<DealId>;
    name: string;
    status: 'open' | 'won' | 'lost' | 'parked';
    company_id: IdBytes<CompanyId> | null;
    contact_id: IdBytes<ContactId> | null;
    stage_id: IdBytes<StageId>;
    notches: number;
    owner_id: IdBytes<UserId>;
    amount_minor: SqlWhole;
    currency: string;
    home_minor: SqlWhole | null;
    win_probability: SqlDecimal | null;
    expected_close_on: string | null;
    stage_since: SqlInstant;
    opened_at: SqlInstant | null;
    changed_at: SqlInstant;
    last_touch_at: SqlInstant | null;
    last_touch_kind: string | null;
    next_step_on: string | null;
    next_step_channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other' | null;
    next_step_at: SqlInstant | null;
    loose_since: SqlInstant | null;
    closed_on: string | null;
    close_reason: string | null;
    wake_on: string | null;
    created_at: SqlInstant;
    archived_at: SqlInstant | null;
    version: number;
    type: 'new' | 'more' | 'renewal';
    priority: 'high' | 'usual' | 'low';
    decision_on: string | null;
    source: string | null;
    parent_id: IdBytes<DealId> | null;
    origin_id: IdBytes<DealId> | null;
    lead_id: IdBytes<LeadId> | null;
    close_words: string;
    lost_to: string | null;
    next_step_sort: string;
    close_sort: string;
    moved_at: SqlInstant | null;
  };
  deal_colleague: {
    deal_id: IdBytes<DealId>;
    user_id: IdBytes<UserId>;
  };
  deal_competitor: {
    deal_id: IdBytes<DealId>;
    name: string;
  };
  deal_count: {
    id: IdBytes<DealId>;
    mail_in_many: number;
    mail_in_first: SqlInstant | null;
    mail_in_last: SqlInstant | null;
    mail_out_many: number;
    mail_out_first: SqlInstant | null;
    mail_out_last: SqlInstant | null;
    call_many: number;
    call_first: SqlInstant | null;
    call_last: SqlInstant | null;
    text_many: number;
    text_first: SqlInstant | null;
    text_last: SqlInstant | null;
    meeting_many: number;
    meeting_first: SqlInstant | null;
    meeting_last: SqlInstant | null;
    conversation_many: number;
    conversation_first: SqlInstant | null;
    conversation_last: SqlInstant | null;
    note_many: number;
    note_first: SqlInstant | null;
    note_last: SqlInstant | null;
  };
  deal_line: {
    id: IdBytes<string>;
    deal_id: IdBytes<DealId>;
    position: number;
    product_id: IdBytes<ProductId> | null;
    name: string;
    quantity: SqlDecimal;
    price_minor: SqlWhole;
    discount_percent: SqlDecimal;
    billing: 'once' | 'yearly';
  };
  deal_mark: {
    on_day: string;
    deal_id: IdBytes<DealId>;
    owner_id: IdBytes<UserId>;
    pipeline_id: IdBytes<PipelineId>;
    minor: SqlWhole | null;
    win_chance: SqlDecimal;
    expected_close_on: string | null;
  };
  deal_person: {
    deal_id: IdBytes<DealId>;
    contact_id: IdBytes<ContactId>;
    role: 'decides' | 'signs' | 'uses' | 'advises';
  };
  do_not_contact: {
    contact_id: IdBytes<ContactId>;
    channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other';
    since: SqlInstant;
    origin: string;
  };
  entry_before: {
    entry_id: IdBytes<EntryId>;
    number: number;
    body: string;
    at: SqlInstant;
    edited_by: IdBytes<UserId>;
    edited_at: SqlInstant;
  };
  entry_comment: {
    id: IdBytes<CommentId>;
    entry_id: IdBytes<EntryId>;
    user_id: IdBytes<UserId>;
    body: string;
    created_at: SqlInstant;
  };
  entry_person: {
    entry_id: IdBytes<EntryId>;
    contact_id: IdBytes<ContactId>;
    at: SqlInstant;
  };
  entry_thanks: {
    entry_id: IdBytes<EntryId>;
    user_id: IdBytes<UserId>;
    created_at: SqlInstant;
  };
  erased_mark: {
    mark: Buffer;
    at: SqlInstant;
  };
  event: {
    id: IdBytes<string>;
    at: SqlInstant;
    kind: string;
    topic: string;
    record_id: IdBytes<string>;
    user_id: IdBytes<UserId> | null;
    set_id: IdBytes<ChangeSetId>;
    cause: string;
    told: number;
    owners: string;
    data: string;
  };
  exchange_rate: {
    currency: string;
    from_on: string;
    rate: SqlDecimal;
  };
  favourite_view: {
    user_id: IdBytes<UserId>;
    view_id: IdBytes<ViewId>;
  };
  file_part: {
    file_id: IdBytes<FileId>;
    number: number;
    bytes: Buffer;
  };
  first_admin: {
    only_one: number;
    user_id: IdBytes<UserId>;
  };
  gateway_event: {
    event_id: string;
    taken_at: SqlInstant;
  };
  home: {
    id: IdBytes<string>;
    user_id: IdBytes<UserId> | null;
    for_role: 'rep' | 'manager' | 'admin' | null;
    cards: SqlJson;
    version: number;
  };
  hook: {
    id: IdBytes<HookId>;
    name: string;
    url: string;
    is_on: number;
    off_because: 'failing' | 'gone' | null;
    user_id: IdBytes<UserId>;
    tried_at: SqlInstant | null;
    failing_since: SqlInstant | null;
    failure: string | null;
    created_at: SqlInstant;
    changed_at: SqlInstant;
    removed_at: SqlInstant | null;
    version: number;
  };
  hook_call: {
    event_id: IdBytes<string>;
    hook_id: IdBytes<HookId>;
    type: string;
    made_at: SqlInstant;
    state: 'waiting' | 'sent' | 'given-up';
    due_at: SqlInstant;
    tries: number;
    status: number | null;
    failure: string | null;
    tried_at: SqlInstant | null;
    taken_by: IdBytes<string> | null;
    taken_until: SqlInstant | null;
  };
  hook_event: {
    hook_id: IdBytes<HookId>;
    name: string;
    topic: string;
    kind: string;
  };
  hook_secret: {
    hook_id: IdBytes<HookId>;
    secret: Buffer;
    former: Buffer | null;
    former_until: SqlInstant | null;
  };
  house_rule: {
    id: IdBytes<RuleId>;
    name: string;
    subject: 'contact' | 'deal' | 'lead' | 'agreement';
    waits_for: SqlJson;
    asks: SqlJson | null;
    does: SqlJson;
    is_on: number;
    on_since: SqlInstant | null;
    missed: 'catch-up' | 'skip';
    per_day: number;
    user_id: IdBytes<UserId>;
    looked_on: string | null;
    created_at: SqlInstant;
    changed_at: SqlInstant;
    removed_at: SqlInstant | null;
    version: number;
  };
  house_rule_event: {
    rule_id: IdBytes<RuleId>;
    topic: string;
    kind: string;
  };
  import_batch: {
    id: IdBytes<ImportId>;
    user_id: IdBytes<UserId>;
    file_name: string;
    type: 'csv' | 'vcard' | 'xlsx';
    encoding: string;
    content: Buffer;
    content_hash: Buffer;
    fields: SqlJson;
    state: 'judged' | 'applying' | 'done' | 'undoing' | 'undone';
    created_at: SqlInstant;
    applied_at: SqlInstant | null;
    version: number;
    with_likely: number;
    leads_as: string | null;
    set_id: IdBytes<ChangeSetId> | null;
    kept: number;
    layout: SqlJson | null;
    kind: 'people' | 'companies' | 'products' | 'leads' | 'deals' | 'agreements' | 'tasks' | 'notes';
    sheet: number;
    date_order: 'dmy' | 'mdy' | 'ymd';
    decimal_mark: 'point' | 'comma';
    package_id: IdBytes<string> | null;
    updates: number;
    made: number;
    changed: number;
  };
  import_row: {
    import_id: IdBytes<ImportId>;
    position: number;
    line: number;
    verdict: 'wrong' | 'twice-in-file' | 'likely' | 'known' | 'new';
    draft: SqlJson;
    problems: SqlJson;
    record_id: IdBytes<string> | null;
    changes: SqlJson | null;
    choice: 'leave' | 'new' | 'same' | null;
    outcome: 'made' | 'changed' | 'refused' | null;
  };
  invitation: {
    id: IdBytes<string>;
    invited_id: IdBytes<string>;
    contact_id: IdBytes<ContactId>;
    email: string;
    name: string;
    is_withdrawn: number;
    answer: 'none' | 'accepted' | 'declined' | 'tentative';
    answer_sequence: number | null;
    answered_at: SqlInstant | null;
    counter_starts_at: SqlInstant | null;
    counter_ends_at: SqlInstant | null;
    words: string | null;
  };
  invited: {
    id: IdBytes<string>;
    owner_id: IdBytes<UserId>;
    sequence: number;
    asks_since: number;
    starts_at: SqlInstant;
    ends_at: SqlInstant;
    title: string;
    place: string | null;
  };
  invoice: {
    id: IdBytes<InvoiceId>;
    kind: 'invoice' | 'credit';
    number: number;
    deal_id: IdBytes<DealId>;
    quote_id: IdBytes<QuoteId> | null;
    credit_of_id: IdBytes<InvoiceId> | null;
    user_id: IdBytes<UserId>;
    name: string;
    customer: string;
    currency: string;
    issued_on: string;
    due_on: string;
    content: SqlJson;
    total_minor: SqlWhole;
    task_id: IdBytes<TaskId> | null;
    reason: string | null;
    created_at: SqlInstant;
  };
  job: {
    id: IdBytes<string>;
    dedupe_key: string;
    kind: string;
    payload: SqlJson;
    shard: number;
    state: 'due' | 'claimed' | 'acting' | 'done' | 'failed' | 'review';
    due_at: SqlInstant;
    owner: IdBytes<string> | null;
    lease_until: SqlInstant | null;
    attempts: number;
    last_error: string | null;
    finished_at: SqlInstant | null;
    asked_by: IdBytes<string> | null;
    failed_at: SqlInstant | null;
  };
  journal_entry: {
    id: IdBytes<EntryId>;
    at: SqlInstant;
    kind: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other' | 'note' | 'system';
    direction: 'out' | 'in' | null;
    outcome_id: string | null;
    outcome_label: string | null;
    counts: 'conversation' | 'attempt' | 'none';
    minutes: number | null;
    body: string;
    is_rich: number;
    user_id: IdBytes<UserId> | null;
    contact_id: IdBytes<ContactId> | null;
    company_id: IdBytes<CompanyId> | null;
    deal_id: IdBytes<DealId> | null;
    task_id: IdBytes<TaskId> | null;
    run_id: IdBytes<RunId> | null;
    removed_at: SqlInstant | null;
    created_at: SqlInstant;
    done: SqlJson | null;
    edited_at: SqlInstant | null;
    removed_by: IdBytes<UserId> | null;
    version: number;
  };
  landing_view: {
    user_id: IdBytes<UserId>;
    place: 'people' | 'companies' | 'tasks' | 'deals' | 'leads' | 'agreements' | 'mail' | 'numbers';
    view_id: IdBytes<ViewId>;
  };
  lead_tag: {
    lead_id: IdBytes<LeadId>;
    tag: string;
  };
  learned: {
    name: string;
    value: number;
    cases: number;
  };
  learned_minutes: {
    user_id: IdBytes<UserId>;
    channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other';
    contact_key: IdBytes<string>;
    contact_id: IdBytes<ContactId> | null;
    minutes: number;
    cases: number;
  };
  mail: {
    id: IdBytes<MailId>;
    direction: 'out' | 'in';
    state: 'waiting' | 'handing-over' | 'sent' | 'failed' | 'held' | 'withdrawn' | 'unfiled' | 'filed' | 'let-go';
    kind: 'human' | 'automatic' | 'out-of-office' | 'bounce' | 'unsubscribe' | null;
    proof: 'proven' | 'unproven' | 'contradicted' | null;
    proof_words: string | null;
    message_id: string;
    idempotency_key: string | null;
    thread_id: IdBytes<MailId>;
    in_reply_to: string | null;
    reference_ids: string;
    from_name: string;
    from_address: string;
    to_address: string;
    subject: string;
    text: string;
    html: string | null;
    links: SqlJson;
    user_id: IdBytes<UserId> | null;
    contact_id: IdBytes<ContactId> | null;
    deal_id: IdBytes<DealId> | null;
    run_id: IdBytes<RunId> | null;
    run_step: number | null;
    template_id: IdBytes<TemplateId> | null;
    entry_id: IdBytes<EntryId> | null;
    arrival_id: IdBytes<string> | null;
    at: SqlInstant;
    due_at: SqlInstant | null;
    handed_at: SqlInstant | null;
    attempts: number;
    said: string | null;
    version: number;
    calendar_text: string | null;
  };
  mailbox_cursor: {
    mailbox: string;
    uid_validity: SqlWhole;
    last_uid: SqlWhole;
  };
  mail_arrival: {
    id: IdBytes<string>;
    digest: Buffer;
    envelope_from: string | null;
    envelope_to: string | null;
    checks: SqlJson | null;
    content: Buffer;
    arrived_at: SqlInstant;
  };
  migration_lease: {
    only_one: number;
    token: string;
    lease_until: SqlInstant;
  };
  migration_report: {
    migration: number;
    step: string;
    mended: number;
    at: SqlInstant;
  };
  migration_step: {
    version: number;
    done: number;
    keys_before: string | null;
  };
  notification: {
    id: IdBytes<NotificationId>;
    user_id: IdBytes<UserId>;
    words: string;
    path: string;
    created_at: SqlInstant;
    read_at: SqlInstant | null;
    kind: 'given' | 'changed' | 'answer' | 'mention' | 'time' | 'quiet' | 'renewal' | 'waking' | 'trouble' | 'release' | null;
    is_important: number;
    set_id: IdBytes<ChangeSetId> | null;
  };
  not_duplicate: {
    one_id: IdBytes<ContactId>;
    other_id: IdBytes<ContactId>;
    user_id: IdBytes<UserId>;
    at: SqlInstant;
  };
  number_series: {
    name: string;
    last_number: number;
  };
  offered_times: {
    id: IdBytes<string>;
    owner_id: IdBytes<UserId>;
    contact_id: IdBytes<ContactId>;
    deal_id: IdBytes<DealId> | null;
    channel: 'meeting' | 'visit';
    title: string;
    place: string | null;
    minutes: number;
    times: SqlJson;
    chosen_at: SqlInstant | null;
    created_at: SqlInstant;
  };
  outside_calendar: {
    id: IdBytes<OutsideCalendarId>;
    user_id: IdBytes<UserId>;
    name: string;
    kind: 'address' | 'both-ways';
    address: string;
    login: string | null;
    is_busy: number;
    removed_at: SqlInstant | null;
    created_at: SqlInstant;
    version: number;
    changed_at: SqlInstant;
    etag: string | null;
    sync_token: string | null;
    whole_at: SqlInstant | null;
    read_at: SqlInstant | null;
    failing_since: SqlInstant | null;
    failure: string | null;
    is_cut: number;
  };
  outside_copy: {
    appointment_id: IdBytes<AppointmentId>;
    calendar_id: IdBytes<OutsideCalendarId>;
    href: string;
    etag: string | null;
    title: string;
    place: string | null;
    starts_at: SqlInstant;
    ends_at: SqlInstant;
    asked: 'no' | 'changed' | 'gone';
    their_title: string | null;
    their_place: string | null;
    their_starts_at: SqlInstant | null;
    their_ends_at: SqlInstant | null;
  };
  outside_event: {
    id: IdBytes<string>;
    calendar_id: IdBytes<OutsideCalendarId>;
    user_id: IdBytes<UserId>;
    href: string;
    title: string;
    place: string | null;
    starts_at: SqlInstant;
    ends_at: SqlInstant;
    is_all_day: number;
    is_busy: number;
  };
  outside_login: {
    calendar_id: IdBytes<OutsideCalendarId>;
    password: Buffer;
  };
  payment: {
    id: IdBytes<string>;
    invoice_id: IdBytes<InvoiceId>;
    on_day: string;
    minor: SqlWhole;
    words: string;
    user_id: IdBytes<UserId>;
    created_at: SqlInstant;
  };
  phone_call: {
    id: IdBytes<PhoneCallId>;
    state: 'dialling' | 'ringing' | 'answered' | 'ended' | 'failed';
    number: string;
    user_id: IdBytes<UserId>;
    contact_id: IdBytes<ContactId> | null;
    started_at: SqlInstant;
    answered_at: SqlInstant | null;
    ended_at: SqlInstant | null;
    result: 'answered' | 'no-answer' | 'busy' | 'voicemail' | 'wrong-number' | 'failed' | null;
    seconds: number | null;
  };
  pipeline: {
    id: IdBytes<PipelineId>;
    name: string;
    moves_on: number;
    hands_on_to: IdBytes<PipelineId> | null;
    position: number;
    version: number;
    retired_at: SqlInstant | null;
    is_for_renewals: number;
  };
  product: {
    id: IdBytes<ProductId>;
    name: string;
    price_minor: SqlWhole;
    billing: 'once' | 'yearly';
    is_retired: number;
    version: number;
  };
  prompt_tick: {
    deal_id: IdBytes<DealId>;
    prompt_id: IdBytes<string>;
    user_id: IdBytes<UserId>;
    at: SqlInstant;
  };
  quota: {
    user_id: IdBytes<UserId>;
    is_team: number;
    from_month: string;
    amount_minor: SqlWhole | null;
  };
  quote: {
    id: IdBytes<QuoteId>;
    deal_id: IdBytes<DealId>;
    user_id: IdBytes<UserId>;
    number: number | null;
    n: number;
    state: 'draft' | 'sent' | 'accepted' | 'declined' | 'withdrawn';
    currency: string;
    name: string;
    intro: string;
    closing: string;
    valid_until: string;
    task_id: IdBytes<TaskId> | null;
    sent_at: SqlInstant | null;
    decided_at: SqlInstant | null;
    decided_name: string | null;
    decided_words: string;
    created_at: SqlInstant;
    version: number;
  };
  quote_line: {
    id: IdBytes<string>;
    quote_id: IdBytes<QuoteId>;
    position: number;
    product_id: IdBytes<ProductId> | null;
    name: string;
    quantity: SqlDecimal;
    price_minor: SqlWhole;
    discount_percent: SqlDecimal;
    tax_percent: SqlDecimal;
    billing: 'once' | 'yearly';
    is_optional: number;
    is_chosen: number;
  };
  quote_question: {
    id: IdBytes<string>;
    quote_id: IdBytes<QuoteId>;
    name: string;
    words: string;
    at: SqlInstant;
  };
  quote_version: {
    quote_id: IdBytes<QuoteId>;
    n: number;
    content: SqlJson;
    total_minor: SqlWhole;
    sent_at: SqlInstant;
    user_id: IdBytes<UserId>;
  };
  rate_limit: {
    key: string;
    points: number;
    expire: SqlWhole | null;
  };
  received_invitation: {
    id: IdBytes<string>;
    user_id: IdBytes<UserId>;
    uid: string;
    mail_id: IdBytes<MailId>;
    sequence: number;
    stamped_at: SqlInstant;
    title: string;
    place: string | null;
    starts_at: SqlInstant;
    ends_at: SqlInstant;
    repeats: number;
    organizer_name: string;
    organizer_email: string;
    is_withdrawn: number;
    answer: 'none' | 'accepted' | 'declined' | 'tentative';
    is_moved: number;
    appointment_id: IdBytes<AppointmentId> | null;
    version: number;
  };
  recovery_code: {
    user_id: IdBytes<UserId>;
    code_hash: Buffer;
  };
  report_mailing: {
    id: IdBytes<ReportMailingId>;
    user_id: IdBytes<UserId>;
    name: string;
    asked: SqlJson;
    created_at: SqlInstant;
    version: number;
  };
  report_mailing_to: {
    mailing_id: IdBytes<ReportMailingId>;
    user_id: IdBytes<UserId>;
  };
  round_day: {
    user_id: IdBytes<UserId>;
    on_date: string;
    prices: string | null;
    arrivals: string | null;
  };
  round_place: {
    user_id: IdBytes<UserId>;
    on_date: string;
    row_key: string;
    place: 'top' | 'above' | 'below';
    hand_order: number | null;
    measure: number | null;
    after_key: string | null;
  };
  round_revision: {
    user_id: IdBytes<UserId>;
    revision: IdBytes<string>;
  };
  rule_firing: {
    id: IdBytes<RuleFiringId>;
    rule_id: IdBytes<RuleId>;
    cause: string;
    record_id: IdBytes<string>;
    at: SqlInstant;
    state: 'done' | 'refused' | 'stopped' | 'over';
    because: string;
    words: string;
    set_id: IdBytes<ChangeSetId> | null;
    chain: SqlJson;
  };
  run: {
    id: IdBytes<RunId>;
    cadence_id: IdBytes<CadenceId>;
    cadence_version_id: IdBytes<CadenceVersionId>;
    contact_id: IdBytes<ContactId>;
    deal_id: IdBytes<DealId> | null;
    owner_id: IdBytes<UserId>;
    status: 'running' | 'paused' | 'finished' | 'stopped';
    step: number;
    next_on: string | null;
    paused_until: string | null;
    exit_reason: string | null;
    handled: SqlJson;
    answered: number;
    started_at: SqlInstant;
    version: number;
    active_contact_id: IdBytes<string> | null;
  };
  run_step: {
    run_id: IdBytes<RunId>;
    step: number;
    channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other';
    template_id: IdBytes<TemplateId> | null;
    reached_at: SqlInstant;
    acted_at: SqlInstant | null;
    answered_at: SqlInstant | null;
  };
  sales_lead: {
    id: IdBytes<LeadId>;
    contact_id: IdBytes<ContactId>;
    owner_id: IdBytes<UserId> | null;
    status: 'untried' | 'trying' | 'in-talks' | 'qualified' | 'set-aside';
    status_since: SqlInstant;
    hand_status: 'untried' | 'trying' | 'in-talks' | 'qualified' | 'set-aside';
    hand_at: SqlInstant;
    warmth: 'hot' | 'warm' | 'cool' | null;
    subject: string;
    about: string;
    company_name: string | null;
    postcode: string | null;
    source: string | null;
    campaign: string | null;
    follow_up_on: string | null;
    link: string | null;
    form_id: IdBytes<FormId> | null;
    consent_words: string | null;
    consent_at: SqlInstant | null;
    consent_confirms: number;
    consent_confirmed_at: SqlInstant | null;
    aside_reason: string | null;
    wake_on: string | null;
    archived_at: SqlInstant | null;
    deal_id: IdBytes<DealId> | null;
    import_id: IdBytes<ImportId> | null;
    given_at: SqlInstant | null;
    created_at: SqlInstant;
    version: number;
  };
  saved_view: {
    id: IdBytes<ViewId>;
    user_id: IdBytes<UserId>;
    place: 'people' | 'companies' | 'tasks' | 'deals' | 'leads' | 'agreements' | 'mail' | 'numbers';
    name: string;
    query: string;
    is_shared: number;
    version: number;
  };
  schema_version: {
    version: SqlWhole;
    name: string | null;
    md5: string | null;
    run_at: SqlInstant | null;
  };
  second_factor: {
    user_id: IdBytes<UserId>;
    secret: Buffer;
    proven_at: SqlInstant | null;
    last_step: SqlWhole;
  };
  secret: {
    name: string;
    value: Buffer;
  };
  security_event: {
    id: IdBytes<string>;
    at: SqlInstant;
    kind: string;
    user_id: IdBytes<UserId> | null;
    about_id: IdBytes<string> | null;
    address_hash: IdBytes<string> | null;
    data: string;
  };
  sender_day: {
    user_id: IdBytes<UserId>;
    on_date: string;
    sent: number;
    next_at: SqlInstant;
  };
  session: {
    token_hash: Buffer;
    id: IdBytes<string>;
    user_id: IdBytes<UserId>;
    created_at: SqlInstant;
    seen_at: SqlInstant;
    expires_at: SqlInstant;
    device: string;
  };
  setting: {
    name: string;
    value: SqlJson;
    version: number;
  };
  site: {
    id: IdBytes<SiteId>;
    company_id: IdBytes<CompanyId>;
    name: string;
    street: string | null;
    postcode: string | null;
    city: string | null;
    country: string;
    zone: string;
    position: number;
    latitude: SqlDecimal | null;
    longitude: SqlDecimal | null;
  };
  snippet: {
    id: IdBytes<SnippetId>;
    name: string;
    body: string;
    version: number;
  };
  stage: {
    id: IdBytes<StageId>;
    pipeline_id: IdBytes<PipelineId>;
    name: string;
    win_probability: SqlDecimal;
    patience_days: number;
    position: number;
    version: number;
    needs: SqlJson;
    brief: SqlJson;
    retired_at: SqlInstant | null;
  };
  stage_stay: {
    deal_id: IdBytes<DealId>;
    number: number;
    stage_id: IdBytes<StageId>;
    entered_at: SqlInstant;
    left_at: SqlInstant | null;
  };
  standing: {
    id: IdBytes<StandingId>;
    name: string;
    standing_group: 'prospect' | 'customer' | 'former';
    check_in_days: number | null;
    position: number;
    is_default: number;
    version: number;
  };
  stirring: {
    id: IdBytes<StirringId>;
    dedupe_key: string;
    at: SqlInstant;
    kind: string;
    words: string;
    user_id: IdBytes<UserId> | null;
    contact_id: IdBytes<ContactId> | null;
    deal_id: IdBytes<DealId> | null;
    mail_id: IdBytes<MailId> | null;
    number: string | null;
    text_id: IdBytes<TextId> | null;
    times: number;
    handled_at: SqlInstant | null;
    handled_by: IdBytes<UserId> | null;
    version: number;
  };
  stored_file: {
    id: IdBytes<FileId>;
    name: string;
    media_type: string;
    size: number;
    contact_id: IdBytes<ContactId> | null;
    company_id: IdBytes<CompanyId> | null;
    deal_id: IdBytes<DealId> | null;
    agreement_id: IdBytes<AgreementId> | null;
    template_id: IdBytes<TemplateId> | null;
    user_id: IdBytes<UserId>;
    is_complete: number;
    created_at: SqlInstant;
    removed_at: SqlInstant | null;
  };
  talk: {
    id: IdBytes<TalkId>;
    contact_id: IdBytes<ContactId> | null;
    company_id: IdBytes<CompanyId> | null;
    deal_id: IdBytes<DealId> | null;
    lead_id: IdBytes<LeadId> | null;
    agreement_id: IdBytes<AgreementId> | null;
    user_id: IdBytes<UserId>;
    body: string;
    created_at: SqlInstant;
  };
  task: {
    id: IdBytes<TaskId>;
    channel: 'call' | 'email' | 'text' | 'meeting' | 'visit' | 'other';
    purpose: string;
    due_on: string;
    promised_at: SqlInstant | null;
    minutes: number;
    state: 'open' | 'done' | 'dropped';
    owner_id: IdBytes<UserId>;
    made_by: IdBytes<UserId> | null;
    contact_id: IdBytes<ContactId> | null;
    company_id: IdBytes<CompanyId> | null;
    deal_id: IdBytes<DealId> | null;
    run_id: IdBytes<RunId> | null;
    run_step: number | null;
    is_automatic: number;
    spacing_days: number | null;
    times_moved: number;
    drop_reason: string | null;
    finished_at: SqlInstant | null;
    created_at: SqlInstant;
    version: number;
    repeats: string | null;
    repeats_from: string | null;
    remind_minutes: number | null;
    remind_at: SqlInstant | null;
    bulk_id: IdBytes<BulkId> | null;
  };
  template: {
    id: IdBytes<TemplateId>;
    name: string;
    channel: 'email' | 'text';
    subject: string;
    body: string;
    created_at: SqlInstant;
    retired_at: SqlInstant | null;
    version: number;
  };
  text_message: {
    id: IdBytes<TextId>;
    direction: 'out' | 'in';
    state: 'waiting' | 'sent' | 'delivered' | 'failed' | 'withdrawn' | 'filed' | 'unfiled';
    number: string;
    body: string;
    gateway_id: string | null;
    user_id: IdBytes<UserId> | null;
    contact_id: IdBytes<ContactId> | null;
    run_id: IdBytes<RunId> | null;
    run_step: number | null;
    template_id: IdBytes<TemplateId> | null;
    entry_id: IdBytes<EntryId> | null;
    at: SqlInstant;
    attempts: number;
    said: string | null;
  };
  told_choice: {
    user_id: IdBytes<UserId>;
    kind: 'given' | 'changed' | 'answer' | 'mention' | 'time' | 'quiet' | 'renewal' | 'waking' | 'trouble' | 'release';
    level: 'all' | 'important' | 'none';
    by_browser: number;
    by_mail: number;
  };
  turn: {
    name: string;
    taken: SqlWhole;
  };
  web_form: {
    id: IdBytes<FormId>;
    form_key: string;
    name: string;
    title: string;
    asks_phone: number;
    asks_company: number;
    asks_postcode: number;
    consent_words: string;
    confirms_consent: number;
    thanks: string;
    source: string;
    campaign: string | null;
    is_open: number;
    origins: SqlJson;
    trapped: number;
    created_at: SqlInstant;
    version: number;
  };
  wording: {
    id: IdBytes<WordingId>;
    act: 'createTemplate' | 'changeTemplate' | 'createSnippet' | 'changeSnippet' | 'createCadence' | 'saveCadence';
    template_id: IdBytes<TemplateId> | null;
    snippet_id: IdBytes<SnippetId> | null;
    cadence_id: IdBytes<CadenceId> | null;
    name: string;
    asked: SqlJson;
    author_id: IdBytes<UserId>;
    at: SqlInstant;
    state: 'waiting' | 'released' | 'declined';
    decided_by: IdBytes<UserId> | null;
    decided_at: SqlInstant | null;
    said: string | null;
    version: number;
  };
}

/** Some columns of the rows of a table. */
export type Row<Table extends keyof Tables, Column extends keyof Tables[Table]> = Pick<Tables[Table], Column>;
