import * as z from 'zod';
import { minutesByChannel } from '../base/words';
import { countryCode, currency, line, plainDate, probability, resolved, zoneName } from '../base/values';

/** One unit of a foreign currency is `rate` of the organisation's own, from that day on. */
export const exchangeRate = z.object({
  currency,
  from: plainDate,
  rate: z
    .number($localize`must be a number such as 0.86`)
    .min(0.000_001, $localize`must be more than nothing`)
    .max(1_000_000, $localize`must be at most 1,000,000`),
});

export type ExchangeRate = z.infer<typeof exchangeRate>;

/** Where the organisation is, what it counts in, and what foreign money is worth there. */
export const organisationSettings = z.object({
  version: z.int(),
  /** As customers know it; empty while nobody has said it. */
  name: z
    .string()
    .trim()
    .max(80, $localize`must be at most ${80}:most: characters`),
  currency,
  homeCountry: countryCode,
  homeZone: zoneName,
  /** How many people of one company may be planned on one day. */
  companyDailyLimit: z.int().min(1).max(100),
  rates: z.array(exchangeRate).max(400),
  /** By country: the part of it whose holidays count; its largest where none is named. */
  regions: z.record(
    countryCode,
    z.string().regex(/^[A-Z\d-]{1,6}$/, $localize`choose a part of the country`),
  ),
  /** Whether days of which a part is free, and days on which only banks are closed, are days off. */
  halfDaysOff: z.boolean(),
  /** Days on which the organisation's own people do not work. */
  ownDaysOff: z.array(z.object({ on: plainDate, name: line(80) })).max(400),
});

/** A part of a country whose holidays differ from the others'. */
export const holidayRegion = z.object({
  code: z.string(),
  name: z.string(),
  /** The one taken where none is named. */
  isUsual: z.boolean(),
});

export type HolidayRegion = z.infer<typeof holidayRegion>;

export const changeOrganisationSettings = organisationSettings
  .extend({ resolved })
  .superRefine(({ currency: own, rates, ownDaysOff }, context) => {
    const seen = new Set<string>();
    rates.forEach((rate, at) => {
      const wrong = (field: string, message: string) =>
        context.addIssue({ code: 'custom', path: ['rates', at, field], message });
      if (rate.currency === own) wrong('currency', $localize`is the organisation’s own`);
      if (seen.has(`${rate.currency} ${rate.from}`))
        wrong('from', $localize`is there twice for this currency`);
      seen.add(`${rate.currency} ${rate.from}`);
    });
    const days = new Set<string>();
    ownDaysOff.forEach(({ on }, at) => {
      if (days.has(on))
        context.addIssue({
          code: 'custom',
          path: ['ownDaysOff', at, 'on'],
          message: $localize`is there twice`,
        });
      days.add(on);
    });
  });

export type OrganisationSettings = z.infer<typeof organisationSettings>;

/** What is learned from the organisation's own history, by where it stands in the Round's settings. */
export const learnedNames = [
  'p0.reply',
  'p0.lead',
  'p0.task',
  'p0.step',
  'p0.waking',
  'p0.stirring',
  'halfDays.reply',
  'halfDays.lead',
  'halfDays.task',
  'halfDays.waking',
  'halfDays.stirring',
  'silenceLossChance',
  'promiseMinor',
  'leadMinor',
  'renewalHalfDays',
  'renewalLastDay',
  'dealFloor',
] as const;

export type LearnedName = (typeof learnedNames)[number];

/** Null where what is learned counts, and the usual value until there are cases enough. */
const learnedChance = probability.nullable();
const learnedAmount = z.int().min(0).max(100_000_000).nullable();
const learnedDays = z.number().min(0.1).max(365).nullable();

/** What the Round reckons with; money in minor units of the organisation's currency. */
export const roundSettings = z.object({
  version: z.int(),
  /** The chance that acting on time brings what is at stake. */
  p0: z.object({
    reply: learnedChance,
    lead: learnedChance,
    task: learnedChance,
    step: learnedChance,
    waking: learnedChance,
    stirring: learnedChance,
  }),
  /** Working days of waiting in which that chance falls to half. */
  halfDays: z.object({
    reply: learnedDays,
    lead: learnedDays,
    task: learnedDays,
    waking: learnedDays,
    stirring: learnedDays,
  }),
  promiseMinor: learnedAmount,
  leadMinor: learnedAmount,
  silenceLossChance: learnedChance,
  renewalHalfDays: learnedDays,
  renewalLastDay: learnedChance,
  dealFloor: learnedChance,
  reserveMinutes: z.int().min(0).max(480),
  /** How long a step takes that nobody gave a length, and how long one is proposed. */
  minutes: minutesByChannel,
});

export const changeRoundSettings = roundSettings.extend({ resolved });

export type RoundSettingsBody = z.infer<typeof roundSettings>;

/** One of the Round's values as it is usual and as it was learned, with the cases it rests on. */
export const learnedValue = z.object({
  name: z.enum(learnedNames),
  usual: z.number(),
  /** Null while there are too few cases. */
  learned: z.number().nullable(),
  cases: z.int(),
});

export type LearnedValue = z.infer<typeof learnedValue>;
