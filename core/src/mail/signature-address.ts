import { folded } from './days-in-text';

export interface PostalAddress {
  readonly street: string | null;
  readonly postcode: string | null;
  readonly city: string | null;
}

interface PostForm {
  readonly countries: readonly string[];
  /** The postcode, and where its city stands. */
  readonly code: RegExp;
  readonly city: 'before' | 'behind';
}

/** Forms of postcodes and the side of their city, of the Universal Postal Union's addressing systems, from memory. */
const forms: readonly PostForm[] = [
  { countries: ['GB'], code: /(?<![\p{L}\d])[A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2}(?![\p{L}\d])/u, city: 'before' },
  { countries: ['IE'], code: /(?<![\p{L}\d])[A-Z]\d[\dW] ?[A-Z\d]{4}(?![\p{L}\d])/u, city: 'before' },
  { countries: ['US'], code: /(?<=(?:^|[ ,])[A-Z]{2} )\d{5}(?:-\d{4})?(?!\d)/u, city: 'before' },
  { countries: ['CA'], code: /(?<=(?:^|[ ,])[A-Z]{2} )[A-Z]\d[A-Z] ?\d[A-Z]\d/u, city: 'before' },
  { countries: ['AU'], code: /(?<=(?:^|[ ,])[A-Z]{2,3} )\d{4}(?!\d)/u, city: 'before' },
  { countries: ['NL'], code: /(?<![\d-])\d{4} ?[A-Z]{2}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['PT'], code: /(?<![\d-])\d{4}-\d{3}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['BR'], code: /(?<![\d-])\d{5}-\d{3}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['SE'], code: /(?<!\d)\d{3} \d{2}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['PL'], code: /(?<![\d-])\d{2}-\d{3}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['AT', 'CH', 'BE', 'DK'], code: /(?<!\d)\d{4}(?= \p{Lu})/u, city: 'behind' },
  { countries: ['DE', 'FR', 'ES', 'IT', 'MX', 'FI'], code: /(?<!\d)\d{5}(?= \p{Lu})/u, city: 'behind' },
];

/**
 * Finds the address in the lines of a signature, and what is left of them without it.
 * @param isFirm whether a part is the name of the writer's firm: it may stand before the street
 */
export function addressIn(
  lines: readonly string[],
  country: string,
  isFirm: (part: string) => boolean,
): { readonly address: PostalAddress; readonly left: readonly string[] } {
  const none = { address: { street: null, postcode: null, city: null }, left: lines };
  const form = forms.find(({ countries }) => countries.includes(country));
  if (!form) return none;
  const at = lines.findIndex((line) => form.code.test(line));
  if (at < 0) return none;
  const line = clean(lines[at]!);
  const found = form.code.exec(line)!;
  const before = partsOf(line.slice(0, found.index).replace(/(?<![\p{L}\d])(?:[A-Z]{1,2})-$/u, ''));
  const behind = line.slice(found.index + found[0].length).replace(/\([A-Z]{2}\)/, '');
  const [post, ...after] = partsOf(behind);
  const used = new Set([at]);
  /** The nearest line above that is not used yet. */
  const above = () => clean(lines[Math.min(...used) - 1] ?? '');
  const takeAbove = () => {
    const text = above();
    used.add(Math.min(...used) - 1);
    return text;
  };
  if (statesBefore.includes(country)) stripState(before);
  const kept = before.filter((part) => !/^Co\. /u.test(part));
  const city = form.city === 'behind' ? cityOf(post) : (kept.pop() ?? takeAbove());
  const firms = kept.length > 0 && isFirm(kept[0]!) && !isHouse(kept[0]!) ? [kept.shift()!] : [];
  const inLine = streetOf(kept);
  const others = inLine === null ? kept : [];
  const street = inLine ?? (looksLikeStreet(above()) ? takeAbove() : null);
  const left = lines.flatMap((each, index) =>
    index === at ? [[...firms, ...others, ...after].join(' | ')] : used.has(index) ? [] : [each],
  );
  return { address: { street, postcode: found[0], city: city || null }, left };
}

/** Whether a text is a postcode of a country, and so no number to call. */
export const isPostcode = (text: string, country: string): boolean =>
  forms.some(
    ({ countries, code }) =>
      countries.includes(country) && code.exec(`${text.trim()} A`)?.[0] === text.trim(),
  );

/** Where the letters of a state stand between city and postcode. */
const statesBefore = ['US', 'CA', 'AU'];

const clean = (line: string) => line.replace(/^[\s|]+|[\s|,]+$/g, '').replace(addressLabel, '');

const addressLabel =
  /^\s*(?:registered office|post(?:al )?adress(?:e)?|postal address|address|adresse|a)\s*:?\s+(?=\p{Lu}|\d)/iu;

const partsOf = (text: string) =>
  text
    .split(/\s*[|·•,]\s*|\s{2,}|\s+[-–—]\s+/)
    .map((part) => part.replace(/^[\s,;–-]+|[\s,;–-]+$/g, ''))
    .filter((part) => part !== '');

/** Takes the letters of a state off the end. */
function stripState(parts: string[]): void {
  const last = parts.pop();
  const city = last?.replace(/\s*\b[A-Z]{2,3}$/, '').trim();
  if (city) parts.push(city);
}

const cityOf = (text: string | undefined) => /^\p{Lu}[\p{L}' .-]*/u.exec(text ?? '')?.[0].trim() ?? null;

/** What stands before the postcode on its line is the street with its house and number, the firm's name apart. */
const streetOf = (parts: readonly string[]): string | null =>
  parts.some(looksLikeStreet) ? parts.join(', ') : null;

const isHouse = (part: string) => houseWord.test(folded(part));
const houseWord =
  /(?<!\p{L})(?:house|mill|unit|floor|court|building|barn|farm|suite|za|zi|polo|gebaude)(?!\p{L})/u;
const streetWord =
  /(?<!\p{L})(?:street|st|road|rd|lane|avenue|ave|drive|way|row|place|square|green|quay|rue|avenue|boulevard|place|quai|allee|chemin|via|viale|corso|piazza|calle|c\/|avenida|av|plaza|paseo|rua|largo|travessa|praca|ul|al|pl|box|postbus|postfach|kade|dorpsplein|am|an der)(?!\p{L})|(?:strase|strasse|str|weg|gasse|allee|platz|ring|straat|laan|plein|gatan|vagen|gata)\.?(?= \d| ?$)/u;

const looksLikeStreet = (part: string) =>
  part !== '' &&
  part.length <= 60 &&
  /\p{L}/u.test(part) &&
  (streetWord.test(folded(part)) ? true : /(?:^\d+\w?,? \p{L}|\p{L} \d+\s?[a-z]?(?:\/\d+)?$)/u.test(part));
