import type { Option } from './form';

/** What Unicode names besides countries: unions, and codes kept for tests and for parts of countries. */
const noCountries = new Set(['CP', 'CQ', 'DG', 'EA', 'EU', 'EZ', 'IC', 'QO', 'UN', 'XA', 'XB', 'ZZ']);
const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];

/** Every country by its name, in the order of the alphabet; before them what an empty one means, where it may be empty. */
export function countryOptions(empty?: string): readonly Option<string>[] {
  const names = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });
  const known = letters
    .flatMap((first) => letters.map((second) => first + second))
    // A code that was given up stands for its successor.
    .filter((code) => !noCountries.has(code) && Intl.getCanonicalLocales(`und-${code}`)[0] === `und-${code}`)
    .flatMap((value) => ({ value, words: names.of(value) ?? '' }))
    .filter(({ words }) => words !== '')
    .sort((one, other) => one.words.localeCompare(other.words, 'en'));
  return empty === undefined ? known : [{ value: '', words: empty }, ...known];
}

/** Every time zone, with one more that the browser may not know; before them what an empty one means, where it may be empty. */
export function zoneOptions(own: string, empty?: string): readonly Option<string>[] {
  const known = Intl.supportedValuesOf('timeZone');
  const zones = own === '' || known.includes(own) ? known : [own, ...known];
  const all = zones.map((value) => ({ value, words: value.replaceAll('_', ' ') }));
  return empty === undefined ? all : [{ value: '', words: empty }, ...all];
}
