import { isDeepStrictEqual } from 'node:util';
import type {
  CandidateKind,
  Channel,
  ContactId,
  Instant,
  PlainDate,
  Round,
  RoundRow,
  roundFilters,
  RoundSettingsBody,
  UserId,
} from '@kettle/contract';
import { freeMinutesBefore, hoursOf, freeGaps, sumMinutes } from '@kettle/core/calendar';
import {
  candidateOf,
  drawCutLine,
  explainRow,
  horizonDays,
  purposeOf,
  rankRound,
  reasonOf,
  type Cut,
  type Horizon,
  type HorizonDay,
  type RankedRow,
} from '@kettle/core/round';
import {
  addDays,
  addWorkingDays,
  daysBetween,
  isWorkingDay,
  localDate,
  localDatesOf,
  localMinute,
  sayMinute,
  workingDaysBetween,
  type WorkingCalendar,
} from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { type TetherColumns, tetherOf } from '../../records/contacts/index';
import { readPerson } from '../../records/users/index';
import type { AllSettings } from '../../records/settings/index';
import { readUsualAmounts } from '../../processes/deals/index';
import { readBlocks, withoutTasks } from '../../activity/calendar/index';
import { type FactReading, readFacts, type KnownFact, type Subject } from './read-facts';
import { readRoundSettings } from './chances';
import { readMinutes } from './learned-minutes';
import { readHeader } from './read-header';
import { type Work, work } from '../../platform/work/work';
import { arrivedOn, keepDay, makePrices, readPrices } from './day-prices';
import type { Row } from '../../platform/database/schema.generated';

/** A row counts as asked about, never silently dropped, from this many moves on. */
const movesBeforeAsking = 3;

export interface Computed {
  readonly cut: Cut;
  readonly horizon: Horizon;
  readonly facts: ReadonlyMap<string, KnownFact>;
  readonly calendar: WorkingCalendar;
  readonly today: PlainDate;
  readonly now: string;
  readonly settings: AllSettings;
  readonly tomorrow: number;
  /** Minutes of tasks that are planned on the days to come. */
  readonly planned: ReadonlyMap<PlainDate, number>;
  readonly ownerId: UserId;
  readonly ownerName: string;
  /** Whether the prices of the day were kept before. */
  readonly isPriced: boolean;
  /** What came since the last working day. */
  readonly arrived: () => ReturnType<typeof arrivedOn>;
}

interface Reckoning {
  /** Settings to try in place of the organisation's own. */
  readonly reckonWith?: RoundSettingsBody;
  /** The next working day's, of what has none of these keys: what today's Round has. */
  readonly tomorrowWithout?: { readonly has: (key: string) => boolean };
}

/**
 * A person's Round as it stands now: facts read, candidates ranked, the cut line drawn.
 */
export async function computeRound(
  db: Queryable,
  services: Services,
  ownerId: UserId,
  { reckonWith, tomorrowWithout }: Reckoning = {},
): Promise<Computed> {
  const { clock, calendars } = services;
  const [owner, stored] = await Promise.all([readPerson(db, ownerId), services.settings.read(db)]);
  const settings = reckonWith === undefined ? stored : { ...stored, round: reckonWith };
  const calendar = calendars.of(owner, settings.organisation);
  const { now, today } = tomorrowWithout
    ? nextMorning(clock.now(), calendar)
    : { now: clock.now(), today: localDate(clock.now(), owner.zone) };
  const [usual, chances, places, kept, minutesOf] = await Promise.all([
    readUsualAmounts(db),
    readRoundSettings(db, settings.round, settings.organisation.currency),
    readPlaces(db, ownerId, today),
    readPrices(db, ownerId, today),
    readMinutes(db, ownerId, settings.round.minutes),
  ]);
  const day = await readHorizon(db, {
    ownerId,
    calendar,
    today,
    now,
    settings,
  });
  const dateOf = localDatesOf(owner.zone);
  const all = await readFacts(db, {
    owner: bytesOf(ownerId),
    zone: owner.zone,
    now,
    today,
    workingDaysSince: keeping((date: PlainDate) => workingDaysBetween(date, today, calendar)),
    dateOf,
    places,
    minutes: settings.round.minutes,
    minutesOf,
    usual,
    reachable: reachability(day.days, (country, zone) =>
      calendars.of({ country, zone }, settings.organisation),
    ),
  });
  const known = tomorrowWithout ? all.filter(({ fact }) => !tomorrowWithout.has(fact.act.key)) : all;
  const setting = {
    days: day.days,
    settings: chances,
    freeBefore: (at: string) => freeMinutesBefore(day.gaps, at),
  };
  const candidates = known.map(({ fact }) => candidateOf(fact, setting));
  const prices = kept ?? (await makePrices(db, ownerId, { candidates, days: day.days }));
  const horizon: Horizon = { days: day.days, prices };
  const cut = drawCutLine(rankRound(candidates, horizon), horizon);
  const facts = new Map(known.map((each) => [each.fact.act.key, each]));
  const since = addWorkingDays(today, -1, calendar);
  const arrived = () =>
    arrivedOn(
      known.map(({ fact }, index) => ({ fact, candidate: candidates[index]! })),
      since,
      dateOf,
    );
  const isPriced = kept !== null;
  return {
    cut,
    horizon,
    facts,
    calendar,
    today,
    now,
    settings,
    tomorrow: day.tomorrow,
    planned: day.planned,
    ownerId,
    ownerName: owner.name,
    isPriced,
    arrived,
  };
}

/** When the next working day begins. */
function nextMorning(now: Instant, calendar: WorkingCalendar): { now: Instant; today: PlainDate } {
  const today = addWorkingDays(addDays(localDate(now, calendar.zone), 1), 0, calendar);
  return { today, now: hoursOf(today, calendar)!.start };
}

/** A function that computes each answer once: thousands of rows share a few dates. */
function keeping<Key, Value>(compute: (key: Key) => Value): (key: Key) => Value {
  const known = new Map<Key, Value>();
  return (key) => {
    const value = known.get(key) ?? compute(key);
    known.set(key, value);
    return value;
  };
}

async function readPlaces(db: Queryable, ownerId: string, today: string): Promise<FactReading['places']> {
  const rows = await db.rows<
    Row<'round_place', 'row_key' | 'place' | 'hand_order' | 'measure' | 'after_key'>
  >(
    'SELECT row_key, place, hand_order, measure, after_key FROM round_place WHERE user_id = :user AND on_date = :today ORDER BY row_key',
    { user: bytesOf(ownerId), today },
  );
  return new Map(
    rows.map((row) => {
      const { place, hand_order: order, measure, after_key: after } = row;
      const isPinned = place === 'top' || order === null || measure === null;
      return [row.row_key, isPinned ? 'top' : { order, measure, after, isToday: place === 'above' }];
    }),
  );
}

interface HorizonReading {
  readonly ownerId: string;
  readonly calendar: WorkingCalendar;
  readonly today: PlainDate;
  readonly now: string;
  readonly settings: AllSettings;
}

/** Today and the twenty working days after it, with the minutes that meetings, reserve and planned tasks leave free. */
async function readHorizon(db: Queryable, reading: HorizonReading) {
  const { calendar, today, now, ownerId, settings } = reading;
  const dates = [today];
  for (let n = 1; n <= horizonDays; n += 1)
    dates.push(addWorkingDays(addDays(dates.at(-1)!, 1), 0, calendar));
  const last = dates.at(-1)!;
  // What is a task too counts by its minutes, as every task does.
  const blocks = withoutTasks(
    await readBlocks(db, ownerId, { from: today, to: addDays(last, 1), zone: calendar.zone }),
  );
  const planned = await db.rows<{ due_on: PlainDate; minutes: string; tasks: string }>(
    `SELECT due_on, SUM(minutes) AS minutes, COUNT(*) AS tasks FROM task
      WHERE owner_id = :owner AND state = 'open' AND due_on > :today AND due_on <= :last AND NOT is_automatic GROUP BY due_on`,
    { owner: bytesOf(ownerId), today, last },
  );
  const taken = new Map(planned.map((row) => [row.due_on, row]));
  const reserve = settings.round.reserveMinutes;
  let todayGaps: ReturnType<typeof freeGaps> = [];
  const days = dates.map((on, index): HorizonDay => {
    const hours = hoursOf(on, calendar);
    const gaps = hours === null ? [] : freeGaps(hours, blocks, index === 0 ? now : hours.start);
    if (index === 0) todayGaps = gaps;
    const free = sumMinutes(gaps) - reserve - Number(taken.get(on)?.minutes ?? 0);
    return { on, ahead: daysBetween(today, on), freeMinutes: Math.max(0, free) };
  });
  const minutes = new Map(planned.map((row) => [row.due_on, Number(row.minutes)]));
  return { days, gaps: todayGaps, tomorrow: Number(taken.get(dates[1]!)?.tasks ?? 0), planned: minutes };
}

/** On which days of the horizon somebody in a country works; computed once for each country and zone. */
function reachability(
  horizon: readonly HorizonDay[],
  calendarOf: (country: string, zone: string) => WorkingCalendar,
) {
  const known = new Map<string, readonly boolean[] | null>();
  return (country: string | null, zone: string | null) => {
    if (country === null || zone === null) return null;
    const key = `${country} ${zone}`;
    const found = known.get(key);
    if (found !== undefined) return found;
    const calendar = calendarOf(country, zone);
    const days = horizon.map((day) => isWorkingDay(day.on, calendar));
    const made = days.every(Boolean) ? null : days;
    known.set(key, made);
    return made;
  };
}

/** The same for whoever looks at it: the first reading of a day sets its prices, so that those shown are those used. */
export async function computePriced(services: Services, ownerId: UserId): Promise<Computed> {
  const first = await computeRound(services.database, services, ownerId);
  if (first.isPriced) return first;
  const { today, arrived } = first;
  const { prices } = first.horizon;
  await work(services, null, (w) => keepDay(w, { ownerId, today, prices, arrived: arrived() }));
  // Somebody may have set them in between.
  const standing = await readPrices(services.database, ownerId, today);
  return isDeepStrictEqual(standing, prices) ? first : computeRound(services.database, services, ownerId);
}

/** A Round as the screen shows it: filtered, its first rows in full. */
export async function showRound(
  db: Queryable,
  computed: Computed,
  filters: z.output<typeof roundFilters>,
): Promise<Round> {
  const { cut, facts, today, settings, ownerId } = computed;
  const isShown = (row: RankedRow) =>
    (filters.channel === undefined || row.lead.channel === filters.channel) &&
    (filters.due === undefined || filters.due === 'tomorrow' || dueOf(row, today) === filters.due) &&
    (filters.kind === undefined || kindsOf(row).has(filters.kind));
  const above = cut.above.filter(isShown);
  const below = cut.below.filter(({ row }) => isShown(row));
  const shownAbove = above.slice(0, filters.limit);
  const shownBelow = below.slice(0, Math.max(0, filters.limit - shownAbove.length));
  const details = await readDetails(db, [...shownAbove, ...shownBelow.map(({ row }) => row)], facts);
  const all = rowsOf(cut);
  const reserve = settings.round.reserveMinutes;
  return {
    on: today,
    asOf: computed.now,
    ownerId,
    ownerName: computed.ownerName,
    header: {
      ...(await readHeader(db, { ownerId, today, zone: computed.calendar.zone })),
      left: all.length,
      leftMinutes: all.reduce((sum, row) => sum + row.minutes, 0),
      freeMinutes: computed.horizon.days[0]!.freeMinutes,
      reserveMinutes: reserve,
      priceOfMinuteMinor: computed.horizon.prices[0] ?? 0,
    },
    above: shownAbove.map((row) => rowOf(row, computed, details, { toDay: null, willMiss: false })),
    below: shownBelow.map(({ row, ...place }) => rowOf(row, computed, details, place)),
    more: above.length + below.length - shownAbove.length - shownBelow.length,
    tomorrow: computed.tomorrow,
    counts: countRows(all, today),
    placed: all.filter(isPlaced).length,
    atRisk: countAtRisk(computed),
    days: computed.horizon.days.map(({ on, freeMinutes }) => ({
      on,
      plannedMinutes: computed.planned.get(on) ?? 0,
      freeMinutes,
    })),
    hidden: all.length - above.length - below.length,
  };
}

/** All rows in their order, those below the line after those above it. */
export const rowsOf = ({ above, below }: Cut): RankedRow[] => [...above, ...below.map(({ row }) => row)];

const dueOf = (row: RankedRow, today: PlainDate) => (row.lead.dueOn < today ? 'late' : 'today');

/** Promises for a time that has passed, and deadlines that no day holds. */
function countAtRisk({ cut, facts, now }: Computed): number {
  const isPast = ({ lead, merged }: RankedRow) =>
    [lead, ...merged].some(({ key }) => {
      const { fact } = facts.get(key)!;
      return fact.kind === 'task' && fact.promisedAt !== null && fact.promisedAt < now;
    });
  return rowsOf(cut).filter(isPast).length + cut.below.filter(({ willMiss }) => willMiss).length;
}

const isPlaced = ({ lead }: RankedRow) =>
  Boolean(lead.hand) && !lead.pinned && lead.fixedAfterMinutes === null;
/** Where a row comes from: several sources, when several reasons are one row. */
const kindsOf = ({ lead, merged }: RankedRow) => new Set([lead, ...merged].map(({ kind }) => kind));

function countRows(rows: readonly RankedRow[], today: PlainDate): Round['counts'] {
  const channels: Partial<Record<Channel, number>> = {};
  const kinds: Partial<Record<CandidateKind, number>> = {};
  for (const row of rows) {
    channels[row.lead.channel] = (channels[row.lead.channel] ?? 0) + 1;
    for (const kind of kindsOf(row)) kinds[kind] = (kinds[kind] ?? 0) + 1;
  }
  const late = rows.filter((row) => dueOf(row, today) === 'late').length;
  return { all: rows.length, late, channels, kinds };
}

interface DetailRow extends TetherColumns, Row<'contact', 'id' | 'zone'> {
  display_name: string;
  company_name: string | null;
}

export interface Details {
  readonly contacts: ReadonlyMap<string, DetailRow>;
  readonly dealNames: ReadonlyMap<string, string>;
}

/** Names, zones and tethers of the rows that are shown, and only of those. */
export async function readDetails(
  db: Queryable,
  rows: readonly RankedRow[],
  facts: ReadonlyMap<string, KnownFact>,
): Promise<Details> {
  const subjects = rows.map((row) => facts.get(row.lead.key)!.subject);
  const contactIds = subjects.flatMap((subject) => subject.contactId ?? []);
  const dealIds = subjects.flatMap((subject) => (subject.contactId === null ? (subject.dealId ?? []) : []));
  const contacts = contactIds.length
    ? await db.rows<DetailRow>(
        `SELECT id, display_name, zone,
                COALESCE(company_name, (SELECT l.company_name FROM sales_lead l WHERE l.contact_id = contact.id
                    ORDER BY l.created_at DESC LIMIT 1)) AS company_name, last_touch_at, last_touch_kind, last_touch_counts,
                next_step_on, next_step_channel, next_step_at FROM contact WHERE id IN (:ids)`,
        { ids: contactIds.map((id) => bytesOf(id)) },
      )
    : [];
  const deals = dealIds.length
    ? await db.rows<Row<'deal', 'id' | 'name'>>('SELECT id, name FROM deal WHERE id IN (:ids)', {
        ids: dealIds.map((id) => bytesOf(id)),
      })
    : [];
  return {
    contacts: new Map(contacts.map((row) => [idOf(row.id), row])),
    dealNames: new Map(deals.map((row) => [idOf(row.id), row.name])),
  };
}

/** Whom a row is about; one without a contact is its deal. */
export function nameOf({ contactId, dealId }: Subject, { contacts, dealNames }: Details): string {
  const contact = contactId === null ? undefined : contacts.get(contactId);
  return contact?.display_name ?? dealNames.get(dealId ?? '') ?? '';
}

const noTether: TetherColumns = {
  last_touch_at: null,
  last_touch_kind: null,
  last_touch_counts: null,
  next_step_on: null,
  next_step_channel: null,
  next_step_at: null,
};

function rowOf(
  row: RankedRow,
  computed: Computed,
  details: Details,
  place: { toDay: number | null; willMiss: boolean },
): RoundRow {
  const { horizon, today, now, settings, calendar } = computed;
  const { fact, subject } = computed.facts.get(row.lead.key)!;
  const contact = subject.contactId === null ? undefined : details.contacts.get(subject.contactId);
  const { currency } = settings.organisation;
  const clock = (at: string) => sayMinute(localMinute(at, calendar.zone));
  const facts = [row.lead, ...row.merged].map((candidate) => computed.facts.get(candidate.key)!);
  const promised = facts.find((each) => each.fact.kind === 'task' && each.fact.promisedAt !== null)?.fact;
  const task = facts.find((each) => each.subject.taskId !== null);
  const act = task?.subject ?? subject;
  // A sign of life brings the row up; what was planned with the person is still what is done.
  const doing = promised ?? (fact.kind === 'stirring' ? task?.fact : undefined) ?? fact;
  return {
    key: row.lead.key,
    kind: fact.kind,
    channel: row.lead.channel,
    purpose: purposeOf(doing),
    reasons: facts.map((each) => reasonOf(each.fact, { today, now, currency, clock })),
    contactId: subject.contactId as ContactId | null,
    contactName: nameOf(subject, details),
    companyName: contact?.company_name ?? null,
    zone: contact?.zone ?? calendar.zone,
    taskId: act.taskId as RoundRow['taskId'],
    taskVersion: act.taskVersion,
    dealId: (subject.dealId ??
      facts.find((each) => each.subject.dealId !== null)?.subject.dealId ??
      null) as RoundRow['dealId'],
    agreementId: subject.agreementId as RoundRow['agreementId'],
    fixedAt: promised?.kind === 'task' ? promised.promisedAt : null,
    minutes: row.minutes,
    due: dueOf(row, today),
    pinned: row.lead.pinned,
    placed: isPlaced(row),
    tether: tetherOf(contact ?? noTether),
    arithmetic: explainRow(row, horizon, currency),
    moveTo: place.toDay === null ? null : horizon.days[place.toDay]!.on,
    willMiss: place.willMiss,
    askToKeep: row.lead.timesMoved >= movesBeforeAsking,
  };
}

/** Keeps the prices of a day, and what arrived on it; a reading that comes later adds what arrived meanwhile. */
export async function keepPricesOf(w: Work, ownerId: UserId): Promise<void> {
  const { horizon, today, arrived } = await computeRound(w, w.services, ownerId);
  await keepDay(w, { ownerId, today, prices: horizon.prices, arrived: arrived() });
}
