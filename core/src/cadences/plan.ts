import type {
  CadenceDefinition,
  CadenceStep,
  Channel,
  Instant,
  PlainDate,
  PlannedMoment,
} from '@kettle/contract';
import {
  addDays,
  addWorkingDays,
  localDate,
  localMinute,
  localMoment,
  sayDate,
  sayMinute,
  whyNotWorking,
  type WorkingCalendar,
} from '../time';

/** What planning must know about the person to be reached. */
export interface PlanContact {
  readonly calendar: WorkingCalendar;
  readonly doNotContact: ReadonlySet<Channel>;
  /** Channels without an address or number. */
  readonly unreachable: ReadonlySet<Channel>;
}

/** Touches that are planned already, which a new plan must leave room for. */
export interface TakenDays {
  readonly person: ReadonlySet<PlainDate>;
  readonly company: ReadonlyMap<PlainDate, number>;
  /** Most touches a day to one company. */
  readonly companyDailyLimit: number;
}

export const nothingTaken: TakenDays = { person: new Set(), company: new Map(), companyDailyLimit: 3 };

export interface PlanSetting {
  readonly contact: PlanContact;
  readonly rep: WorkingCalendar;
  readonly taken: TakenDays;
  readonly now: Instant;
}

/** No plan shifts a step further than this. */
const longestShiftDays = 400;

/**
 * Every planned moment of a cadence that starts on `startOn`: in the contact's zone, inside the step's window, on a
 * day that works for both sides and, where a person does it, in the rep's own hours; never two touches to a person on a day, never more than
 * the limit to one company. Offsets are working days of the contact's calendar. A step on a forbidden channel takes its fallback or is skipped.
 */
export function plan(
  definition: CadenceDefinition,
  startOn: PlainDate,
  setting: PlanSetting,
): PlannedMoment[] {
  const person = new Set(setting.taken.person);
  let completedOn = startOn;
  return definition.steps.map((step, index) => {
    const moment = planStep(step, index, completedOn, { ...setting, taken: { ...setting.taken, person } });
    if (moment.kind === 'planned') {
      person.add(moment.on);
      completedOn = moment.on;
    }
    return moment;
  });
}

/** The moment of one step, counted from the day the step before was completed (or the start). */
export function planStep(
  step: CadenceStep,
  index: number,
  completedOn: PlainDate,
  setting: PlanSetting,
): PlannedMoment {
  const channel = usableChannel(step, setting.contact);
  if (channel.kind === 'none')
    return { kind: 'skipped', step: index, channel: step.channel, reason: channel.reason };
  const day = findDay(step, completedOn, setting);
  if (day === null) {
    const reason = $localize`no day within a year suits both sides`;
    return { kind: 'skipped', step: index, channel: step.channel, reason };
  }
  return {
    kind: 'planned',
    step: index,
    channel: channel.channel,
    on: day.on,
    at: day.at,
    minutes: step.minutes,
    shifts: [...channel.shifts, ...day.shifts],
  };
}

type Usable = { kind: 'use'; channel: Channel; shifts: string[] } | { kind: 'none'; reason: string };

function usableChannel(step: CadenceStep, contact: PlanContact): Usable {
  const why = whyNotChannel(step.channel, contact);
  if (why === null) return { kind: 'use', channel: step.channel, shifts: [] };
  if (step.fallbackChannel === null || whyNotChannel(step.fallbackChannel, contact) !== null)
    return { kind: 'none', reason: why };
  return {
    kind: 'use',
    channel: step.fallbackChannel,
    shifts: [$localize`${why}:why:: ${step.fallbackChannel}:fallbackChannel: instead`],
  };
}

function whyNotChannel(channel: Channel, contact: PlanContact): string | null {
  if (contact.doNotContact.has(channel)) return $localize`marked do-not-contact by ${channel}:channel:`;
  return contact.unreachable.has(channel) ? $localize`nothing to reach them on by ${channel}:channel:` : null;
}

interface FoundDay {
  readonly on: PlainDate;
  readonly at: Instant;
  readonly shifts: string[];
}

/** So many days in a row on which only the hours do not meet: they never will. */
const daysWithoutCommonHour = 14;

function findDay(step: CadenceStep, completedOn: PlainDate, setting: PlanSetting): FoundDay | null {
  const inHours = search(step, completedOn, setting, step.mode === 'by-hand');
  if (inHours !== 'no common hour') return inHours;
  // Their hours and ours never meet: they are reached in theirs, and it is said.
  const found = search(step, completedOn, setting, false);
  if (found === null || found === 'no common hour') return null;
  const ours = sayMinute(localMinute(found.at, setting.rep.zone));
  return { ...found, shifts: [...found.shifts, $localize`outside your hours: it is ${ours}:time: for you`] };
}

function search(
  step: CadenceStep,
  completedOn: PlainDate,
  setting: PlanSetting,
  isInHours: boolean,
): FoundDay | 'no common hour' | null {
  const { contact, now } = setting;
  const today = localDate(now, contact.calendar.zone);
  const counted = addWorkingDays(completedOn, step.offsetDays, contact.calendar);
  const shifts = explainSkippedDays(completedOn, counted, step, setting);
  let on = counted < today ? today : counted;
  let withoutHour = 0;
  for (let shifted = 0; shifted < longestShiftDays; shifted += 1) {
    const why = whyNotOn(on, step, setting, today) ?? momentFor(on, step, setting, isInHours);
    if (typeof why === 'object') return { on, at: why.at, shifts };
    withoutHour = why === noCommonHour ? withoutHour + 1 : withoutHour;
    if (withoutHour === daysWithoutCommonHour) return 'no common hour';
    const words = why === noCommonHour ? $localize`your hours do not meet theirs` : why;
    shifts.push($localize`not ${sayDate(on, today)}:on:: ${words}:why:`);
    on = addDays(on, 1);
  }
  return null;
}

const noCommonHour = Symbol('no common hour');

/**
 * The first moment of the step's window on their day that is on the rep's own working day by the rep's own zone, and in their hours
 * where a person does it; what goes by itself needs the day alone. Else why there is none.
 */
function momentFor(
  on: PlainDate,
  step: CadenceStep,
  { contact, rep, now }: PlanSetting,
  isInHours: boolean,
): { readonly at: Instant } | string | typeof noCommonHour {
  const { zone } = contact.calendar;
  const opens = localMoment(on, step.windowStart, zone);
  const closes = localMoment(on, step.windowEnd, zone);
  const first = opens > now ? opens : now;
  // The window ends before it closes.
  const last = new Date(Date.parse(closes) - 1).toISOString();
  const days = [...new Set([localDate(first, rep.zone), localDate(last, rep.zone)])];
  const working = days.filter((day) => whyNotWorking(day, rep) === null);
  if (working.length === 0) return $localize`${whyNotWorking(days[0]!, rep)!}:ours: on your side`;
  for (const day of working) {
    const starts = localMoment(day, isInHours ? rep.startMinute : 0, rep.zone);
    const ends = localMoment(isInHours ? day : addDays(day, 1), isInHours ? rep.endMinute : 0, rep.zone);
    const at = starts > first ? starts : first;
    if (at < closes && at < ends) return { at };
  }
  return noCommonHour;
}

/** Only holidays are worth a word among the days that counting passed over: everybody expects weekends. */
function explainSkippedDays(
  from: PlainDate,
  to: PlainDate,
  step: CadenceStep,
  setting: PlanSetting,
): string[] {
  const { calendar } = setting.contact;
  const firstPossible = addDays(from, step.offsetDays === 0 ? 0 : 1);
  const words: string[] = [];
  for (let on = firstPossible; on < to; on = addDays(on, 1))
    if (calendar.holidays.has(on))
      words.push($localize`${sayDate(on, to)}:on: does not count: ${whyNotWorking(on, calendar)}:on2:`);
  return words;
}

function whyNotOn(on: PlainDate, step: CadenceStep, setting: PlanSetting, today: PlainDate): string | null {
  const { contact, taken, now } = setting;
  const theirs = whyNotWorking(on, contact.calendar);
  if (theirs !== null) return theirs;
  if (taken.person.has(on)) return $localize`another touch that day`;
  if ((taken.company.get(on) ?? 0) >= taken.companyDailyLimit)
    return $localize`enough touches to the company that day`;
  const isOver = on === today && localMinute(now, contact.calendar.zone) >= step.windowEnd;
  return isOver
    ? $localize`their ${sayMinute(step.windowStart)}:windowStart: to ${sayMinute(step.windowEnd)}:windowEnd: is over`
    : null;
}
