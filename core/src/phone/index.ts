import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max';

export interface PhoneNumber {
  /** ITU E.164, `+441632960123`. */
  readonly e164: string;
  readonly country: string | null;
  /** Whether its range belongs to mobiles alone. */
  readonly isMobile: boolean;
}

/** Reads a number as people write it, with the country for national forms; null when it cannot be one. */
export function readPhone(text: string, country: string): PhoneNumber | null {
  const found = parsePhoneNumberFromString(text, country as CountryCode);
  if (!found?.isPossible()) return null;
  return {
    e164: found.number,
    country: found.country ?? null,
    isMobile: kindOf(found) === 'MOBILE',
  };
}

/** Numbers kept free for fiction and tests are of no kind: they count as what their neighbours are. */
function kindOf(found: ParsedNumber): string | undefined {
  const national = found.nationalNumber;
  const neighbour = `${national.slice(0, 2)}${'12345678901'.slice(0, national.length - 2)}`;
  return found.getType() ?? parsePhoneNumberFromString(`+${found.countryCallingCode}${neighbour}`)?.getType();
}

/** Whether a number in E.164 is a mobile, which one person carries; where a country does not part them by range, nothing says so. */
export const isMobileNumber = (e164: string): boolean => readPhone(e164, 'GB')?.isMobile ?? false;

type ParsedNumber = NonNullable<ReturnType<typeof parsePhoneNumberFromString>>;

/**
 * A number as people of a country write it: without the country's code at home, with it abroad or where no country is given. What is
 * no number stays as it is.
 * @example sayPhone('+441632960123', 'GB') is '01632 960123'; sayPhone('+441632960123', 'DE') is '+44 1632 960123'
 */
export function sayPhone(text: string, country: string | null): string {
  const found = parsePhoneNumberFromString(text);
  if (!found) return text;
  const isHome =
    country !== null &&
    (found.country === country || found.getPossibleCountries().includes(country as CountryCode));
  return isHome ? found.formatNational() : found.formatInternational();
}
