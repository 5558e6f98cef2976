import type { Channel, Instant, PlainDate, Warmth } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import { stalledDays } from '@kettle/core/deals';
import type { FactAct, HandPlace, RoundFact } from '@kettle/core/round';
import { addMinutes, daysBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf } from '../../platform/database/values';
import { idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { MinutesOf } from './learned-minutes';
import type { UsualAmounts } from '../../processes/deals/index';

/** What a fact is about, for reading the rows that are shown. */
export interface Subject {
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly taskId: string | null;
  readonly taskVersion: number | null;
  readonly agreementId: string | null;
}

export interface KnownFact {
  readonly fact: RoundFact;
  readonly subject: Subject;
}

export interface FactReading {
  readonly owner: Buffer;
  /** Where the rep is. */
  readonly zone: string;
  readonly now: Instant;
  readonly today: PlainDate;
  /** Working days of the rep from a past date up to today. */
  readonly workingDaysSince: (date: PlainDate) => number;
  /** The calendar date of an instant where the rep is. */
  readonly dateOf: (at: Instant) => PlainDate;
  /** Rows that have a place today: pinned to the top, or put by hand. */
  readonly places: ReadonlyMap<string, 'top' | HandPlace>;
  /** How long an act by each channel takes that nobody gave a length, as the organisation reckons. */
  readonly minutes: Readonly<Record<Channel, number>>;
  /** The same as it was learned of the rep, and with whom. */
  readonly minutesOf: MinutesOf;
  /** What a deal or an agreement without a value counts as. */
  readonly usual: UsualAmounts;
  /** Per horizon day, whether somebody in this country can be reached; null when every day. */
  readonly reachable: (country: string | null, zone: string | null) => readonly boolean[] | null;
}

/** Weighted value in minor units of the joined deal and stage; one that has no value counts as the usual one. */
const weighted =
  'IF(d.id IS NULL, NULL, ROUND(COALESCE(NULLIF(d.home_minor, 0), :usualDeal, 0) * COALESCE(d.win_probability, s.win_probability)))';
const isUsual = '(d.id IS NOT NULL AND COALESCE(d.home_minor, 0) = 0) AS is_usual';
const yearly = (agreement: string) => `COALESCE(NULLIF(${agreement}yearly_home_minor, 0), :usualYearly, 0)`;
/** Whether the joined contact can be called: a usable number, and no mark against it. */
export const callable = `(c.phone IS NOT NULL AND NOT c.phone_unusable AND NOT EXISTS
  (SELECT 1 FROM do_not_contact n WHERE n.contact_id = c.id AND n.channel = 'call')) AS callable`;

/** Every statement whose rows become candidates, in one place: the Round's reading and the bench's bare reading. */
export const factStatements = {
  tasks: `SELECT t.id, t.channel, t.purpose, t.due_on, t.promised_at, t.minutes, t.run_id, t.run_step, t.spacing_days,
        t.times_moved, t.version, t.contact_id, t.deal_id, ${weighted} AS deal_minor, ${isUsual}, c.country, c.zone
      FROM task t
      LEFT JOIN deal d ON d.id = t.deal_id AND d.status = 'open' LEFT JOIN stage s ON s.id = d.stage_id
      LEFT JOIN contact c ON c.id = t.contact_id
     WHERE t.owner_id = :owner AND t.state = 'open' AND t.due_on <= :today AND NOT t.is_automatic ORDER BY t.due_on, t.id`,
  runs: `SELECT t.id, JSON_LENGTH(v.definition, '$.steps') AS steps
      FROM task t JOIN run r ON r.id = t.run_id JOIN cadence_version v ON v.id = r.cadence_version_id
     WHERE t.owner_id = :owner AND t.state = 'open' AND t.due_on <= :today ORDER BY t.id`,
  replies: `SELECT c.id, c.waiting_since, c.country, c.zone, MIN(d.id) AS deal_id, SUM(${weighted}) AS deal_minor
      FROM contact c
      LEFT JOIN deal d ON d.contact_id = c.id AND d.status = 'open' LEFT JOIN stage s ON s.id = d.stage_id
     WHERE c.owner_id = :owner AND c.waiting_since IS NOT NULL AND c.archived_at IS NULL
     GROUP BY c.id, c.waiting_since, c.country, c.zone ORDER BY c.id`,
  stirrings: `SELECT c.id, MAX(s.at) AS at, SUBSTRING_INDEX(GROUP_CONCAT(s.words ORDER BY s.at DESC SEPARATOR '\n'), '\n', 1) AS words,
        c.country, c.zone, ${callable}, (SELECT MIN(d.id) FROM deal d WHERE d.contact_id = c.id AND d.status = 'open') AS deal_id,
        (SELECT SUM(${weighted}) FROM deal d JOIN stage s ON s.id = d.stage_id
          WHERE d.contact_id = c.id AND d.status = 'open') AS deal_minor
      FROM stirring s JOIN contact c ON c.id = s.contact_id AND c.owner_id = s.user_id
     WHERE s.user_id = :owner AND s.handled_at IS NULL AND s.at > :today - INTERVAL 7 DAY AND c.waiting_since IS NULL
       AND c.archived_at IS NULL AND (s.kind IN ('clicked', 'missed-call') OR (s.kind = 'opened' AND s.times > 1))
     GROUP BY c.id, c.country, c.zone ORDER BY c.id`,
  quiet: `SELECT c.id, c.last_touch_at, c.standing_set_at, c.next_touch_due, c.country, c.zone, c.company_id, ${callable},
        COALESCE(c.check_in_days, st.check_in_days) AS interval_days
      FROM contact c JOIN standing st ON st.id = c.standing_id
     WHERE c.owner_id = :owner AND c.next_touch_due < :today AND c.next_step_on IS NULL
       AND c.archived_at IS NULL ORDER BY c.id`,
  yearly: `SELECT COALESCE(company_id, contact_id) AS customer_id, SUM(${yearly('')}) AS yearly_minor
      FROM agreement WHERE owner_id = :owner AND state IN ('ahead', 'running') AND archived_at IS NULL AND COALESCE(company_id, contact_id) IS NOT NULL
     GROUP BY 1 ORDER BY 1`,
  renewals: `SELECT a.id, a.name, a.notice_deadline_on, ${yearly('a.')} AS yearly_minor, COALESCE(a.yearly_home_minor, 0) = 0 AS is_usual,
        a.contact_id, c.country, c.zone, ${callable}
      FROM agreement a LEFT JOIN contact c ON c.id = a.contact_id
     WHERE a.owner_id = :owner AND a.decision = 'open' AND a.notice_deadline_on >= :today AND a.lead_on <= :today AND a.archived_at IS NULL
       AND (c.next_step_on IS NULL OR c.next_step_on <= :today OR c.next_step_on > a.notice_deadline_on)
     ORDER BY a.id`,
  deals: `SELECT d.id, d.amount_minor, d.currency, ${weighted} AS deal_minor, ${isUsual}, d.status, d.moved_at, d.loose_since, d.created_at,
        d.next_step_on, d.wake_on, d.close_reason, s.patience_days, s.name AS stage_name, d.contact_id, c.country, c.zone, ${callable}
      FROM deal d JOIN stage s ON s.id = d.stage_id LEFT JOIN contact c ON c.id = d.contact_id
     WHERE d.owner_id = :owner AND ((d.status = 'open' AND (d.next_step_on IS NULL OR d.next_step_on <= :today))
        OR (d.status = 'parked' AND d.wake_on <= :today)) ORDER BY d.id`,
  leads: `SELECT l.id, l.contact_id, l.status, l.subject, l.source, l.warmth, l.follow_up_on, l.wake_on, l.aside_reason, l.created_at,
        l.status_since, c.country, c.zone, ${callable}
      FROM sales_lead l JOIN contact c ON c.id = l.contact_id
     WHERE l.owner_id = :owner AND l.status IN ('untried', 'trying', 'in-talks', 'set-aside') AND l.archived_at IS NULL AND c.archived_at IS NULL
       AND (l.status = 'set-aside' AND l.wake_on <= :today
         OR l.status <> 'set-aside' AND (l.follow_up_on <= :today
              OR c.next_step_on IS NULL AND l.follow_up_on IS NULL))
     ORDER BY l.id`,
} as const;

/** Reads every reason to act that a person has today. */
export async function readFacts(db: Queryable, reading: FactReading): Promise<KnownFact[]> {
  const { dealMinor: usualDeal, yearlyMinor: usualYearly } = reading.usual;
  const parameters = { owner: reading.owner, today: reading.today, usualDeal, usualYearly };
  const read = <Row>(name: keyof typeof factStatements) => db.rows<Row>(factStatements[name], parameters);
  const [tasks, runs, replies, stirrings, quiet, yearly, renewals, deals, leads] = await Promise.all([
    read<TaskRow>('tasks'),
    read<{ id: IdBytes; steps: number }>('runs'),
    read<ReplyRow>('replies'),
    read<StirringRow>('stirrings'),
    read<QuietRow>('quiet'),
    read<{ customer_id: IdBytes; yearly_minor: string }>('yearly'),
    read<RenewalRow>('renewals'),
    read<DealFactRow>('deals'),
    read<LeadFactRow>('leads'),
  ]);
  const steps = new Map(runs.map((row) => [row.id.toString('hex'), row.steps]));
  const values = new Map(yearly.map((row) => [row.customer_id.toString('hex'), Number(row.yearly_minor)]));
  const planned = tasks.map((row) => taskFact(row, steps.get(row.id.toString('hex')) ?? null, reading));
  const groups = explicitGroups(planned);
  return [
    ...planned,
    ...replies.map((row) => replyFact(row, reading, groups)),
    ...stirrings.map((row) => stirringFact(row, reading, groups)),
    ...quiet.map((row) =>
      quietFact(row, values.get((row.company_id ?? row.id).toString('hex')) ?? 0, reading, groups),
    ),
    ...renewals.map((row) => renewalFact(row, reading, groups)),
    ...deals.flatMap((row) => dealFacts(row, reading, groups)),
    ...leads.map((row) => leadFact(row, reading, groups)),
  ];
}

interface Reachable {
  country: string | null;
  zone: string | null;
}

interface TaskRow extends Reachable {
  id: IdBytes;
  channel: Channel;
  purpose: string;
  due_on: PlainDate;
  promised_at: string | null;
  minutes: number;
  run_id: IdBytes | null;
  run_step: number | null;
  spacing_days: number | null;
  times_moved: number;
  version: number;
  contact_id: IdBytes | null;
  deal_id: IdBytes | null;
  deal_minor: string | null;
  is_usual: number;
}

function taskFact(row: TaskRow, steps: number | null, reading: FactReading): KnownFact {
  const id = idOf<string>(row.id);
  const contactId = idOrNull<string>(row.contact_id);
  const dealId = idOrNull<string>(row.deal_id);
  const lateDays = row.due_on < reading.today ? reading.workingDaysSince(row.due_on) : 0;
  const key = `task:${id}`;
  // A length that is the usual one was given by nobody: what was learned is nearer.
  const minutes =
    row.minutes === reading.minutes[row.channel] ? reading.minutesOf(row.channel, contactId) : row.minutes;
  const act: FactAct = {
    key,
    group: `${personGroup(contactId, dealId)}:${row.channel}`,
    channel: row.channel,
    minutes: isOver(row, reading.now) ? Math.min(minutes, minutesToLog) : minutes,
    pinned: reading.places.get(key) === 'top',
    timesMoved: row.times_moved,
    reachable: reading.reachable(row.country, row.zone),
    hand: handOf(key, reading),
    ...(row.is_usual === 1 && { isUsualValue: true }),
  };
  const dealMinor = Number(row.deal_minor ?? 0);
  const { due_on: dueOn, purpose } = row;
  const fact: RoundFact =
    steps === null || row.promised_at !== null
      ? {
          kind: 'task',
          act,
          dueOn,
          overdueDays: lateDays,
          promisedAt: row.promised_at && instantOf(row.promised_at),
          dealMinor,
          purpose,
        }
      : {
          kind: 'step',
          act,
          dueOn,
          lateDays,
          spacingDays: row.spacing_days ?? 5,
          step: (row.run_step ?? 0) + 1,
          steps,
          dealMinor,
          purpose,
        };
  return { fact, subject: { contactId, dealId, taskId: id, taskVersion: row.version, agreementId: null } };
}

/** Of an appointment that is over what is left is to say what came of it. Common practice, no source. */
const minutesToLog = 5;
const met: ReadonlySet<Channel> = new Set(channelsThat(({ isMet }) => isMet === true));

const isOver = (
  { channel, promised_at: at, minutes }: Pick<TaskRow, 'channel' | 'promised_at' | 'minutes'>,
  now: Instant,
) => at !== null && met.has(channel) && addMinutes(instantOf(at), minutes) <= now;

function handOf(key: string, { places }: FactReading): HandPlace | null {
  const place = places.size === 0 ? undefined : places.get(key);
  return place === undefined || place === 'top' ? null : place;
}

const personGroup = (contactId: string | null, dealId: string | null) =>
  contactId ? `person:${contactId}` : `deal:${dealId}`;

/** The first planned act of each person: reasons without an act of their own join its row. */
function explicitGroups(planned: readonly KnownFact[]): Map<string, string> {
  const groups = new Map<string, string>();
  for (const { fact, subject } of planned) {
    const person = personGroup(subject.contactId, subject.dealId);
    if (!groups.has(person)) groups.set(person, fact.act.group);
  }
  return groups;
}

// Facts and what they are made of are written out flat: a Round has thousands, and copying objects would cost the most.
function derivedAct(
  key: string,
  row: Reachable,
  subject: Subject,
  reading: FactReading,
  groups: Map<string, string>,
  channel: Channel,
): FactAct {
  const person = personGroup(subject.contactId, subject.dealId);
  return {
    key,
    group: groups.get(person) ?? person,
    channel,
    minutes: reading.minutesOf(channel, subject.contactId),
    pinned: reading.places.get(key) === 'top',
    timesMoved: 0,
    reachable: reading.reachable(row.country, row.zone),
    hand: handOf(key, reading),
  };
}

function subjectOf(
  contactId: string | null,
  dealId: string | null,
  agreementId: string | null = null,
): Subject {
  return { contactId, dealId, taskId: null, taskVersion: null, agreementId };
}

interface ReplyRow extends Reachable {
  id: IdBytes;
  waiting_since: string;
  deal_id: IdBytes | null;
  deal_minor: string | null;
}

function replyFact(row: ReplyRow, reading: FactReading, groups: Map<string, string>): KnownFact {
  const contactId = idOf<string>(row.id);
  const subject = subjectOf(contactId, idOrNull(row.deal_id));
  const act = derivedAct(`reply:${contactId}`, row, subject, reading, groups, 'email');
  const since = instantOf(row.waiting_since);
  return { fact: { kind: 'reply', act, since, dealMinor: Number(row.deal_minor ?? 0) }, subject };
}

interface Callable extends Reachable {
  callable: number | null;
}

/** Derived reasons ask for a call, or for a letter where no call is possible. */
const channelFor = (row: Callable): Channel => (row.callable === 1 ? 'call' : 'email');

interface StirringRow extends Callable {
  id: IdBytes;
  at: string;
  words: string;
  deal_id: IdBytes | null;
  deal_minor: string | null;
}

/** Signs of life of the last week that are worth a call: a link followed, a mail opened again, a call missed. */
function stirringFact(row: StirringRow, reading: FactReading, groups: Map<string, string>): KnownFact {
  const contactId = idOf<string>(row.id);
  const subject = subjectOf(contactId, idOrNull(row.deal_id));
  const act = derivedAct(`stirring:${contactId}`, row, subject, reading, groups, channelFor(row));
  const dealMinor = Number(row.deal_minor ?? 0);
  return { fact: { kind: 'stirring', act, at: instantOf(row.at), words: row.words, dealMinor }, subject };
}

interface QuietRow extends Callable {
  id: IdBytes;
  last_touch_at: string | null;
  standing_set_at: string;
  next_touch_due: PlainDate;
  company_id: IdBytes | null;
  interval_days: number;
}

function quietFact(
  row: QuietRow,
  yearlyMinor: number,
  reading: FactReading,
  groups: Map<string, string>,
): KnownFact {
  const contactId = idOf<string>(row.id);
  const subject = subjectOf(contactId, null);
  const since = reading.dateOf(instantOf(row.last_touch_at ?? row.standing_set_at));
  const fact: RoundFact = {
    kind: 'quiet',
    act: derivedAct(`quiet:${contactId}`, row, subject, reading, groups, channelFor(row)),
    silenceDays: daysBetween(since, reading.today),
    intervalDays: row.interval_days,
    dueOn: row.next_touch_due,
    yearlyMinor,
  };
  return { fact, subject };
}

interface RenewalRow extends Callable {
  id: IdBytes;
  name: string;
  notice_deadline_on: PlainDate;
  yearly_minor: string;
  is_usual: number;
  contact_id: IdBytes | null;
}

function renewalFact(row: RenewalRow, reading: FactReading, groups: Map<string, string>): KnownFact {
  const agreementId = idOf<string>(row.id);
  const subject = subjectOf(idOrNull(row.contact_id), null, agreementId);
  const fact: RoundFact = {
    kind: 'renewal',
    act: {
      ...derivedAct(`renewal:${agreementId}`, row, subject, reading, groups, channelFor(row)),
      ...(row.is_usual === 1 && { isUsualValue: true }),
    },
    deadlineOn: row.notice_deadline_on,
    yearlyMinor: Number(row.yearly_minor),
    name: row.name,
  };
  return { fact, subject };
}

interface DealFactRow extends Callable {
  id: IdBytes;
  amount_minor: string | number;
  currency: string;
  deal_minor: string | null;
  is_usual: number;
  status: 'open' | 'parked';
  moved_at: string;
  loose_since: string | null;
  created_at: string;
  next_step_on: PlainDate | null;
  wake_on: PlainDate | null;
  close_reason: string | null;
  patience_days: number;
  stage_name: string;
  contact_id: IdBytes | null;
}

/** An open deal without a next step is loose; one past its patience is stalled as well; a parked one wakes. */
function dealFacts(row: DealFactRow, reading: FactReading, groups: Map<string, string>): KnownFact[] {
  const { today } = reading;
  const dealId = idOf<string>(row.id);
  const subject = subjectOf(idOrNull(row.contact_id), dealId);
  const act = (kind: string): FactAct => ({
    ...derivedAct(`${kind}:${dealId}`, row, subject, reading, groups, channelFor(row)),
    ...(row.is_usual === 1 && { isUsualValue: true }),
  });
  const weightedMinor = Number(row.deal_minor);
  const amountMinor = Number(row.amount_minor);
  const { currency } = row;
  const patienceDays = row.patience_days;
  if (row.status === 'parked' && row.wake_on !== null) {
    const lateDays = reading.workingDaysSince(row.wake_on);
    const reason = row.close_reason ?? $localize`no reason given`;
    return [
      {
        fact: { kind: 'waking', act: act('waking'), weightedMinor, wakeOn: row.wake_on, lateDays, reason },
        subject,
      },
    ];
  }
  const facts: KnownFact[] = [];
  if (row.next_step_on === null) {
    const since = reading.dateOf(instantOf(row.loose_since ?? row.created_at));
    const days = daysBetween(since, today);
    facts.push({
      fact: {
        kind: 'loose',
        act: act('loose'),
        weightedMinor,
        amountMinor,
        currency,
        patienceDays,
        days,
        since,
      },
      subject,
    });
  }
  const movedAt = instantOf(row.moved_at);
  const since = reading.dateOf(movedAt);
  const daysPast = stalledDays({ movedAt, patienceDays, ownerZone: reading.zone }, reading.now);
  const stage = row.stage_name;
  if (daysPast > 0)
    facts.push({
      fact: {
        kind: 'stalled',
        act: act('stalled'),
        weightedMinor,
        amountMinor,
        patienceDays,
        daysPast,
        stage,
        since,
      },
      subject,
    });
  return facts;
}

interface LeadFactRow extends Callable {
  id: IdBytes;
  contact_id: IdBytes;
  status: 'untried' | 'trying' | 'in-talks' | 'set-aside';
  subject: string;
  source: string | null;
  warmth: Warmth | null;
  follow_up_on: PlainDate | null;
  wake_on: PlainDate | null;
  aside_reason: string | null;
  created_at: string;
  status_since: string;
}

/** A lead nobody has tried yet, one whose follow-up has come, one with nothing planned, or one that wakes. */
function leadFact(row: LeadFactRow, reading: FactReading, groups: Map<string, string>): KnownFact {
  const id = idOf<string>(row.id);
  const subject = subjectOf(idOf<string>(row.contact_id), null);
  const act = (kind: string) => derivedAct(`${kind}:${id}`, row, subject, reading, groups, channelFor(row));
  if (row.status === 'set-aside') {
    const wakeOn = row.wake_on ?? reading.today;
    const reason = row.aside_reason ?? row.subject;
    const lateDays = reading.workingDaysSince(wakeOn);
    return {
      fact: { kind: 'waking', act: act('waking'), weightedMinor: 0, wakeOn, lateDays, reason },
      subject,
    };
  }
  const isDue = row.follow_up_on !== null && row.follow_up_on <= reading.today;
  const state = isDue ? 'follow-up' : row.status === 'untried' ? 'untried' : 'loose';
  const since = instantOf(row.status === 'untried' ? row.created_at : row.status_since);
  const waitsSince = isDue ? row.follow_up_on! : reading.dateOf(since);
  const fact: RoundFact = {
    kind: 'lead',
    act: act('lead'),
    state,
    since,
    lateDays: waitsSince < reading.today ? reading.workingDaysSince(waitsSince) : 0,
    subject: row.subject,
    source: row.source,
    warmth: row.warmth,
  };
  return { fact, subject };
}
