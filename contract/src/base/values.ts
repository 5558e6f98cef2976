import * as z from 'zod';

/** A calendar date without a zone, `2026-11-24`. */
export const plainDate = z.iso
  .date($localize`must be a date such as 2026-11-24`)
  .refine(isInReach, $localize`must lie between the years 1900 and 2199`);

export type PlainDate = z.infer<typeof plainDate>;

/** A moment in UTC with milliseconds, `2026-11-24T09:15:00.000Z`. */
export const instant = z.iso
  .datetime($localize`must be a moment such as 2026-11-24T09:15:00Z`)
  .refine(isInReach, $localize`must lie between the years 1900 and 2199`);

/** Terms, intervals and reminders are reckoned from days: none of them may leave what a calendar knows. */
function isInReach(day: string): boolean {
  return day >= '1900' && day < '2200';
}

export type Instant = z.infer<typeof instant>;

/** Minutes after local midnight, 0 to 1440. */
export const minuteOfDay = z.int().min(0).max(1440);

/** The largest amount in minor units: the sum of fifty thousand of them is still a whole number exactly. */
export const mostMinor = 100_000_000_000;

/** Amount in the currency's minor unit (ISO 4217: pence, cents, whole yen), never negative. */
export const amountMinor = z
  .int($localize`must be a whole number of the currency’s smallest unit`)
  .min(0, $localize`must not be negative`)
  .max(mostMinor, $localize`is larger than an amount can be here`);

/** ISO 4217 code. */
export const currency = z.string().regex(/^[A-Z]{3}$/, $localize`must be a three-letter currency code`);

/** ISO 3166-1 alpha-2 code. */
export const countryCode = z.string().regex(/^[A-Z]{2}$/, $localize`must be a two-letter country code`);

/** IANA zone name, checked against the runtime's own list. */
export const zoneName = z.string().refine(isZone, $localize`must be a time zone such as Europe/London`);

function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

export const probability = z.number().min(0).max(1);

/** The version a change was based on; every stored change adds one. */
export const version = z.int().min(1);

/** What a person chose where they and somebody else changed the same field: over the version they were shown, by the fields' names. */
export const resolved = z
  .object({
    version,
    mine: z.array(z.string().max(60)).max(60),
    theirs: z.array(z.string().max(60)).max(60),
  })
  .optional();
export type Resolved = z.infer<typeof resolved>;

/** One line of text a person typed: trimmed, never empty. */
export const line = (most = 200) =>
  z
    .string()
    .trim()
    .min(1, $localize`must not be empty`)
    .max(most, $localize`must be at most ${most}:most: characters`);

/** Longer text a person typed; may be empty. */
export const notes = z.string().max(20_000, $localize`must be at most 20,000 characters`);

export const emailAddress = z.email($localize`must be an e-mail address such as ada@firm.example`).max(254);
