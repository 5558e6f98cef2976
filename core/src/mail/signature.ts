import { companyDomain, hasLegalForm, isRoleName, nameKey, splitName } from '../duplicates';
import { readPhone } from '../phone';
import { folded } from './days-in-text';
import { closingLine } from './machine-words';
import { addressIn, isPostcode, type PostalAddress } from './signature-address';
import { firmWords, isFine, isTitled, legalLine, personMarks, phoneLabels } from './signature-words';

/** A number of a signature and what it is for. */
export interface SignedPhone {
  readonly kind: 'work' | 'direct' | 'mobile' | 'fax';
  /** ITU E.164. */
  readonly number: string;
}

/** What the end of a mail tells of its writer; null where it says nothing. */
export interface Signature extends PostalAddress {
  readonly givenName: string | null;
  readonly familyName: string | null;
  readonly title: string | null;
  readonly firm: string | null;
  readonly phones: readonly SignedPhone[];
  readonly website: string | null;
}

export interface SignedBy {
  /** As the header has it, `Maud Penrow`; may be empty. */
  readonly name: string;
  readonly address: string;
  /** Where national numbers and postcodes are from. */
  readonly country: string;
}

const mostLines = 16;

/**
 * Reads the signature of a mail: below a closing line or two dashes, or from the writer's name on. Numbers, addresses and links are
 * taken out of its lines first; what is left is a name, a title or a firm, told by whom the mail is from, by words of trades and by
 * legal forms, and else by the order in which they stand.
 * @param text what its writer wrote now, without what it answers
 */
export function readSignature(text: string, by: SignedBy): Signature {
  const name = headerName(by);
  const lines = signatureLines(text, name);
  const phones: SignedPhone[] = [];
  let website: string | null = null;
  const domain = by.address.split('@').at(-1)?.toLowerCase() ?? '';
  const rest = lines.map((line) => {
    const withoutMail = line.replace(mailPattern, ' | ');
    const withoutPhones = takePhones(withoutMail, by.country, phones);
    return withoutPhones.replace(linkPattern, (whole, link: string) => {
      const isLink = /^(?:https?:\/\/|www\.)/i.test(link) || link.toLowerCase().endsWith(domain);
      if (!isLink) return whole;
      website ??= link.replace(/[.,;]$/, '');
      return ' | ';
    });
  });
  const { address, left } = addressIn(rest, by.country, (part) => isFirm(part, domain));
  const said = whoIn(left, { name, domain, country: by.country });
  return { ...said, phones: once(phones), website, ...address };
}

const mailPattern = /(?:(?<!\p{L})(?:e-?mail|mail|e)\s*[.:]?\s*)?[\w.+-]+@[\w-]+(?:\.[\w-]+)+/giu;
const linkPattern =
  /(?:(?<!\p{L})(?:web(?:site)?|internet|[wi])\s*[.:]?\s+)?(?<![\w@])((?:https?:\/\/)?[\w-]+(?:\.[\w-]+)+(?:\/[^\s|]*)?)/giu;

function once(phones: readonly SignedPhone[]): SignedPhone[] {
  return phones.filter(({ number }, index) => phones.findIndex((each) => each.number === number) === index);
}

/** The name of the header without what stands in brackets and without titles; empty where it is no person's. */
function headerName({ name }: SignedBy): string {
  return isRoleName(name) ? '' : withoutMarks(name.replace(/\(.*?\)|["<>]/g, ' ')).trim();
}

const withoutMarks = (name: string) => name.replace(personMarks, ' ').replace(/\s+/g, ' ').trim();

function signatureLines(text: string, name: string): string[] {
  const all = text
    .split(/\r?\n/)
    .map((line) => line.replaceAll(' ', ' ').trimEnd())
    .slice(-60);
  const [given = ''] = nameKey(name).split(' ');
  const isClosing = (line: string) =>
    line.length <= 45 && !isDashes(line) && closingLine.test(folded(line.trim())) && isUsed(line);
  const closing = all.findLastIndex(isClosing);
  const start = closing >= 0 ? closing : all.findLastIndex(isDashes);
  if (start >= 0) {
    // The name may stand right behind the closing words.
    const words = all[start]!.split(' ');
    const at = words.findIndex((word) => given !== '' && nameKey(word) === given);
    const behind = at > 0 ? words.slice(at).join(' ') : '';
    return [behind, ...all.slice(start + 1)].filter(isUsed).slice(0, mostLines);
  }
  const named = all.findIndex(
    (line) => given !== '' && nameKey(line).split(' ')[0] === given && line.length < 120,
  );
  return named < 0 ? [] : all.slice(named).filter(isUsed).slice(0, mostLines);
}

const isDashes = (line: string) => /^(?:--|_{3,})\s*$/.test(line.trim());
const isUsed = (line: string) => /[\p{L}\d]/u.test(line) && !legalLine.test(folded(line));

const numberPattern = /(?<![\d@/.-])(\+|\(\+?|00)?\d[\d\s()./-]{5,}\d(?:\s*(?:ext|x|dw)\.?\s*\d+)?/giu;

/** Takes numbers out of a line, each with what stands right before it and says what it is for. */
function takePhones(line: string, country: string, found: SignedPhone[]): string {
  let left = '';
  let end = 0;
  for (const match of line.matchAll(numberPattern)) {
    const [typed] = match;
    const number = readPhone(typed.replace(/\s*(?:ext|x|dw)\.?\s*\d+$/i, ''), country);
    if (number === null || typed.replace(/\D/g, '').length < 8 || isPostcode(typed, country)) continue;
    const before = left + line.slice(end, match.index);
    const lead = before.replace(/[\s.:(]+$/, '');
    const label = phoneLabels.find(({ words }) => words.test(folded(lead)));
    found.push({ kind: label?.kind ?? (number.isMobile ? 'mobile' : 'work'), number: number.e164 });
    left = `${label ? lead.slice(0, folded(lead).search(label.words)) : before} | `;
    end = match.index + typed.length;
  }
  return left + line.slice(end);
}

/**
 * Whether a part is a firm's name: by its legal form or the domain its people write from, which may also name the trade. "Head Baker" of
 * falkbakery is a title all the same.
 */
function isFirm(part: string, domain: string): boolean {
  if (hasLegalForm(part)) return true;
  const label =
    domain
      .split('.')
      .at(-2)
      ?.replace(/[^\p{L}\d]/gu, '') ?? '';
  if (companyDomain(domain) === null && !domain.endsWith('.example')) return false;
  const words = nameKey(part)
    .split(' ')
    .filter((word) => word.length >= 3);
  const isOwn = (word: string) => !isTitled(word) && !firmWords.test(word);
  if (words.join('') === label || words.some((word) => word === label && isOwn(word))) return true;
  if (isOwn(words[0] ?? '') && words[0] !== undefined && label.startsWith(words[0])) return true;
  return !isTitled(part) && words.some((word) => word.length >= 4 && label.includes(word));
}

interface Who {
  readonly givenName: string | null;
  readonly familyName: string | null;
  readonly title: string | null;
  readonly firm: string | null;
}

function whoIn(
  lines: readonly string[],
  { name, domain, country }: { name: string; domain: string; country: string },
): Who {
  const parts = lines
    .flatMap((line) => line.split(/\s*[|·•]\s*|\s{2,}|\s+[-–—/]\s+|\s*\/\/\s*/))
    .flatMap((part) => pieces(part, name, domain));
  let whole: string | null = null;
  let title: string | null = null;
  let firm: string | null = null;
  const between: string[] = [];
  for (const part of parts
    .map((each) => each.replace(/^[\s,.;:–-]+|[\s,;:–-]+$/g, ''))
    .filter((each) => /\p{L}{2}/u.test(each))) {
    if (isGivenAlone(part, name)) continue;
    if (isNamed(part, name)) whole ??= withoutMarks(part);
    else if (isFirm(part, domain)) firm ??= part;
    else if (isTitled(part)) title ??= part;
    else if (firmWords.test(folded(part)) && isFine(part)) firm ??= part;
    else if (whole === null && name === '' && looksNamed(part)) whole = withoutMarks(part);
    else if (isFine(part)) between.push(part);
  }
  // What nothing tells of stands where one of the two usually stands.
  if (firm === null) firm = between[0] ?? null;
  else if (whole !== null) title ??= between[0] ?? null;
  const called = bestName(whole, name);
  return { ...split(called, country), title, firm };
}

/** A part cut at its commas, where what is before one is a name or a title and what is behind another thing. */
function pieces(part: string, name: string, domain: string): string[] {
  const at = part.indexOf(',');
  if (at < 0) return [part];
  const [head, tail] = [part.slice(0, at), part.slice(at + 1).trim()];
  if (isNamed(head, name)) return [head, ...pieces(tail, name, domain)];
  if (isTitled(head) && (isFirm(tail, domain) || firmWords.test(folded(tail)))) return [head, tail];
  return [part];
}

const tokensOf = (name: string) => nameKey(withoutMarks(name)).split(' ').filter(Boolean);

/** Has the family name of the header and the given one or its letter. */
function isNamed(part: string, name: string): boolean {
  const [tokens, own] = [tokensOf(part), tokensOf(name)];
  if (own.length < 2 || tokens.length < 2 || tokens.length > own.length + 3) return false;
  const family = own.slice(1);
  const isGiven = tokens[0] === own[0] || (tokens[0]!.length === 1 && own[0]!.startsWith(tokens[0]!));
  return isGiven && family.every((word) => tokens.includes(word));
}

const isGivenAlone = (part: string, name: string) =>
  tokensOf(part).length === 1 && (tokensOf(part)[0] === tokensOf(name)[0] || tokensOf(part)[0]!.length === 1);

const looksNamed = (part: string) =>
  /^\p{Lu}[\p{L}'-]+(?: \p{Lu}[\p{L}'-]*\.?){1,3}$/u.test(withoutMarks(part));

/** The longer one of what is signed and what the header has; letters are spelled out by it. */
function bestName(signed: string | null, header: string): string {
  if (signed === null) return header;
  return /^\p{L}\.?(?:\s|$)/u.test(signed) ? header : signed;
}

function split(name: string, country: string): Pick<Who, 'givenName' | 'familyName'> {
  const { givenName, familyName } = splitName(name.split(' ').map(plainCase).join(' '), country);
  return { givenName: givenName || null, familyName: familyName || null };
}

/** `MOREAU` as people are called: Moreau. */
const plainCase = (word: string) =>
  word.length > 1 && word === word.toUpperCase()
    ? word.toLowerCase().replace(/(^|[-'])\p{L}/gu, (letter) => letter.toUpperCase())
    : word;
