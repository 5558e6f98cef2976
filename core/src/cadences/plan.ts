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
 * day that works for both sides, never two touches to a person on a day, never more than the limit to one company.
 * Offsets are working days of the contact's calendar. A step on a forbidden channel takes its fallback or is skipped.
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
    at: momentOn(day.on, step, setting),
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

function findDay(
  step: CadenceStep,
  completedOn: PlainDate,
  setting: PlanSetting,
): { on: PlainDate; shifts: string[] } | null {
  const { contact, now } = setting;
  const today = localDate(now, contact.calendar.zone);
  const counted = addWorkingDays(completedOn, step.offsetDays, contact.calendar);
  const shifts = explainSkippedDays(completedOn, counted, step, setting);
  let on = counted < today ? today : counted;
  for (let shifted = 0; shifted < longestShiftDays; shifted += 1) {
    const why = whyNotOn(on, step, setting, today);
    if (why === null) return { on, shifts };
    shifts.push($localize`not ${sayDate(on, today)}:on:: ${why}:why:`);
    on = addDays(on, 1);
  }
  return null;
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
  const { contact, rep, taken, now } = setting;
  const theirs = whyNotWorking(on, contact.calendar);
  if (theirs !== null) return theirs;
  const ours = whyNotWorking(on, rep);
  if (ours !== null) return $localize`${ours}:ours: on your side`;
  if (taken.person.has(on)) return $localize`another touch that day`;
  if ((taken.company.get(on) ?? 0) >= taken.companyDailyLimit)
    return $localize`enough touches to the company that day`;
  const isOver = on === today && localMinute(now, contact.calendar.zone) >= step.windowEnd;
  return isOver
    ? $localize`their ${sayMinute(step.windowStart)}:windowStart: to ${sayMinute(step.windowEnd)}:windowEnd: is over`
    : null;
}

function momentOn(on: PlainDate, step: CadenceStep, setting: PlanSetting): Instant {
  const { zone } = setting.contact.calendar;
  const opens = localMoment(on, step.windowStart, zone);
  return opens > setting.now ? opens : setting.now;
}
