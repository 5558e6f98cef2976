import * as z from 'zod';
import { minutesByChannel } from '../base/words';
import { countryCode, currency, plainDate, probability, resolved, zoneName } from '../base/values';

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
  currency,
  homeCountry: countryCode,
  homeZone: zoneName,
  /** How many people of one company may be planned on one day. */
  companyDailyLimit: z.int().min(1).max(100),
  rates: z.array(exchangeRate).max(400),
});

export const changeOrganisationSettings = organisationSettings
  .extend({ resolved })
  .superRefine(({ currency: own, rates }, context) => {
    const seen = new Set<string>();
    rates.forEach((rate, at) => {
      const wrong = (field: string, message: string) =>
        context.addIssue({ code: 'custom', path: ['rates', at, field], message });
      if (rate.currency === own) wrong('currency', $localize`is the organisation’s own`);
      if (seen.has(`${rate.currency} ${rate.from}`))
        wrong('from', $localize`is there twice for this currency`);
      seen.add(`${rate.currency} ${rate.from}`);
    });
  });

export type OrganisationSettings = z.infer<typeof organisationSettings>;

/** What the Round reckons with; money in minor units of the organisation's currency. */
export const roundSettings = z.object({
  version: z.int(),
  /** The chance that acting on time brings what is at stake. */
  p0: z.object({
    reply: probability,
    lead: probability,
    task: probability,
    step: probability,
    waking: probability,
    stirring: probability,
  }),
  promiseMinor: z.int().min(0).max(100_000_000),
  leadMinor: z.int().min(0).max(100_000_000),
  /** Whether that is learned each night from the organisation's own leads and deals. */
  learnsLead: z.boolean(),
  silenceLossChance: probability,
  renewalHalfDays: z.number().min(0.5).max(365),
  renewalLastDay: probability,
  dealFloor: probability,
  reserveMinutes: z.int().min(0).max(480),
  /** How long a step takes that nobody gave a length, and how long one is proposed. */
  minutes: minutesByChannel,
});

export const changeRoundSettings = roundSettings.extend({ resolved });

export type RoundSettingsBody = z.infer<typeof roundSettings>;
