import type { Decay } from './candidate';

/** The chances and values behind the Round, as they count for an organisation. */
export interface RoundSettings {
  /** Chance that acting on time brings the stake, by kind. */
  readonly p0: Readonly<Record<'reply' | 'lead' | 'task' | 'step' | 'waking' | 'stirring', number>>;
  /** Working days of waiting in which that chance falls to half; a step's are those to the next step. */
  readonly halfDays: Readonly<Record<'reply' | 'lead' | 'task' | 'waking' | 'stirring', number>>;
  /** What keeping a promise is worth at least, in minor units. */
  readonly promiseMinor: number;
  /** What a lead or prospect without a deal is expected to bring, in minor units. */
  readonly leadMinor: number;
  /** Chance that silence loses a customer within a year. */
  readonly silenceLossChance: number;
  /** Calendar days before its deadline in which half of a renewal is decided. */
  readonly renewalHalfDays: number;
  /** What a call on the deadline's own day still saves, as a share. */
  readonly renewalLastDay: number;
  /** The share of a loose or stalled deal's chance that no waiting takes away. */
  readonly dealFloor: number;
  /** Share of the day kept back for what comes in, in minutes. */
  readonly reserveMinutes: number;
}

/** Usual values, for money in pounds: what counts while an organisation has neither set nor learned its own. */
export const defaultRoundSettings: RoundSettings = {
  p0: { reply: 0.62, lead: 0.3, task: 0.6, step: 0.15, waking: 0.4, stirring: 0.25 },
  // Interest shown fades as a reply's does: the same half-life, at a lower chance.
  halfDays: { reply: 1, lead: 0.5, task: 5, waking: 5, stirring: 1 },
  promiseMinor: 2500,
  leadMinor: 12000,
  silenceLossChance: 0.08,
  renewalHalfDays: 20,
  renewalLastDay: 0.4,
  dealFloor: 0.2,
  reserveMinutes: 15,
};

/** So many cold calls a kept promise is worth at least: it comes before a cold call and not before a deal. */
const coldCallsOfPromise = 10;

/** What keeping a promise is worth, in minor units: as it was set, and never less than ten cold calls bring. */
export const promiseWorth = ({ promiseMinor, leadMinor, p0 }: RoundSettings): number =>
  Math.max(promiseMinor, Math.round(coldCallsOfPromise * leadMinor * p0.step));

const perWorkingDay = (p0: number, behindDays: number, halfLifeDays: number): Decay => ({
  kind: 'half-life',
  p0,
  behindDays,
  halfLifeDays,
  per: 'working',
});
const perCalendarDay = (behindDays: number, halfLifeDays: number, floor = 0): Decay => ({
  kind: 'half-life',
  p0: 1,
  behindDays,
  halfLifeDays,
  per: 'calendar',
  floor,
});

/** How chances fall for each kind of candidate, as the table of defaults has them. Days behind may be negative. */
export const decayOf = {
  reply: ({ p0, halfDays }: RoundSettings) => perWorkingDay(p0.reply, 0, halfDays.reply),
  stirring: ({ p0, halfDays }: RoundSettings) => perWorkingDay(p0.stirring, 0, halfDays.stirring),
  lead: ({ p0, halfDays }: RoundSettings) => perWorkingDay(p0.lead, 0, halfDays.lead),
  task: ({ p0, halfDays }: RoundSettings, overdueDays: number) =>
    perWorkingDay(p0.task, overdueDays, halfDays.task),
  step: ({ p0 }: RoundSettings, lateDays: number, spacingDays: number) =>
    perWorkingDay(p0.step, lateDays, Math.max(1, spacingDays)),
  waking: ({ p0, halfDays }: RoundSettings, lateDays: number) =>
    perWorkingDay(p0.waking, lateDays, halfDays.waking),
  quiet: (silenceDays: number, intervalDays: number) =>
    perCalendarDay(silenceDays - intervalDays, 6 * intervalDays),
  renewal: (settings: RoundSettings, daysLeft: number): Decay => ({
    kind: 'deadline',
    daysLeft,
    lastDay: settings.renewalLastDay,
    halfDays: settings.renewalHalfDays,
  }),
  loose: (settings: RoundSettings, daysWithoutStep: number, patienceDays: number) =>
    perCalendarDay(daysWithoutStep, Math.max(1, patienceDays), settings.dealFloor),
  stalled: (settings: RoundSettings, daysPastPatience: number, patienceDays: number) =>
    perCalendarDay(daysPastPatience, Math.max(1, patienceDays), settings.dealFloor),
};
