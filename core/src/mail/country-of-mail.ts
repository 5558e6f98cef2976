import { getPublicSuffix } from 'tldts';
import { readPhone } from '../phone';

/**
 * Where a mail is from, as far as it tells: by the domain of its writer, by a number with its country's code, else the given one.
 * @example countryOfMail('jonas@hald.de', '', 'GB') is 'DE'
 */
export function countryOfMail(address: string, text: string, otherwise: string): string {
  const suffix =
    getPublicSuffix(address.split('@').at(-1) ?? '')
      ?.split('.')
      .at(-1) ?? '';
  if (/^[a-z]{2}$/.test(suffix) && !unplaced.includes(suffix))
    return suffix === 'uk' ? 'GB' : suffix.toUpperCase();
  const number = /\+\d[\d\s()./-]{6,}\d/.exec(text)?.[0];
  return (number === undefined ? null : readPhone(number, otherwise)?.country) ?? otherwise;
}

/** Two letters that firms of everywhere take. */
const unplaced = ['eu', 'io', 'co', 'me', 'tv', 'ai', 'cc', 'fm', 'to', 'ly', 'gg'];
