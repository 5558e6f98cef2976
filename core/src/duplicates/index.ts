import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max';

export interface PhoneNumber {
  /** ITU E.164, `+441632960123`. */
  readonly e164: string;
  readonly country: string | null;
}

/** Reads a number as people write it, with the country for national forms; null when it cannot be one. */
export function readPhone(text: string, country: string): PhoneNumber | null {
  const found = parsePhoneNumberFromString(text, country as CountryCode);
  if (!found?.isPossible()) return null;
  return { e164: found.number, country: found.country ?? null };
}

export * from './compare';
export * from './jaro-winkler';
export * from './names';
