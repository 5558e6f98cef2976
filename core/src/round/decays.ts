import type { CandidateKind } from '@kettle/contract';
import type { Decay } from './candidate';

/** Defaults of the chances and values behind the Round; an organisation's settings override them. */
export interface RoundSettings {
  /** Chance that acting on time brings the stake, by kind. */
  readonly p0: Readonly<Partial<Record<CandidateKind, number>>>;
  /** What keeping a promise is worth at least, in minor units. */
  readonly promiseMinor: number;
  /** What a lead or prospect without a deal is expected to bring, in minor units. */
  readonly leadMinor: number;
  /** Chance that silence loses a customer within a year. */
  readonly silenceLossChance: number;
  /** Median calendar days that renewals take. */
  readonly renewalDays: number;
  /** Share of the day kept back for what comes in, in minutes. */
  readonly reserveMinutes: number;
}

export const defaultRoundSettings: RoundSettings = {
  p0: { reply: 0.62, lead: 0.3, task: 0.6, step: 0.15, waking: 0.4, stirring: 0.25 },
  promiseMinor: 2500,
  leadMinor: 12000,
  silenceLossChance: 0.08,
  renewalDays: 2,
  reserveMinutes: 15,
};

const perWorkingDay = (p0: number, behindDays: number, halfLifeDays: number): Decay => ({
  kind: 'half-life',
  p0,
  behindDays,
  halfLifeDays,
  per: 'working',
});
const perCalendarDay = (behindDays: number, halfLifeDays: number): Decay => ({
  kind: 'half-life',
  p0: 1,
  behindDays,
  halfLifeDays,
  per: 'calendar',
});

/** How chances fall for each kind of candidate, as the table of defaults has them. Days behind may be negative. */
export const decayOf = {
  reply: (settings: RoundSettings) => perWorkingDay(settings.p0.reply ?? 1, 0, 1),
  /** Interest shown fades as a reply's does: the same half-life, at a lower chance. */
  stirring: (settings: RoundSettings) => perWorkingDay(settings.p0.stirring ?? 0.25, 0, 1),
  lead: (settings: RoundSettings) => perWorkingDay(settings.p0.lead ?? 1, 0, 0.5),
  task: (settings: RoundSettings, overdueDays: number) =>
    perWorkingDay(settings.p0.task ?? 1, overdueDays, 5),
  step: (settings: RoundSettings, lateDays: number, spacingDays: number) =>
    perWorkingDay(settings.p0.step ?? 1, lateDays, Math.max(1, spacingDays)),
  waking: (settings: RoundSettings, lateDays: number) => perWorkingDay(settings.p0.waking ?? 1, lateDays, 5),
  quiet: (silenceDays: number, intervalDays: number) =>
    perCalendarDay(silenceDays - intervalDays, 6 * intervalDays),
  renewal: (settings: RoundSettings, daysLeft: number): Decay => ({
    kind: 'deadline',
    daysLeft,
    medianDays: settings.renewalDays,
  }),
  loose: (daysWithoutStep: number, patienceDays: number) =>
    perCalendarDay(daysWithoutStep, Math.max(1, patienceDays)),
  stalled: (daysPastPatience: number, patienceDays: number) =>
    perCalendarDay(daysPastPatience, Math.max(1, patienceDays)),
};
