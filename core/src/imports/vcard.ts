import ICAL from 'ical.js';
import type { RawContact } from './draft';

export interface ReadCard {
  readonly line: number;
  readonly raw: RawContact;
}

export interface ReadCards {
  readonly cards: readonly ReadCard[];
  readonly unreadable: readonly { readonly line: number; readonly reason: string }[];
}

/**
 * Reads vCard 2.1, 3.0 (RFC 2426) and 4.0 (RFC 6350), of people and of companies: name, organisation, title, first or preferred e-mail, telephone,
 * address, web page and note. A broken card is reported with its line, and the others go on.
 */
export function readVCards(text: string): ReadCards {
  const cards: ReadCard[] = [];
  const unreadable: { line: number; reason: string }[] = [];
  for (const { body, line } of splitCards(text)) {
    try {
      cards.push({ line, raw: readCard(body) });
    } catch {
      unreadable.push({ line, reason: $localize`the card cannot be read as vCard 2.1, 3.0 or 4.0` });
    }
  }
  return { cards, unreadable };
}

function splitCards(text: string): { body: string; line: number }[] {
  const cards: { body: string; line: number }[] = [];
  let start = -1;
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  lines.forEach((each, index) => {
    if (/^BEGIN:VCARD\s*$/i.test(each)) {
      if (start >= 0) cards.push({ body: lines.slice(start, index).join('\r\n'), line: start + 1 });
      start = index;
    }
    if (start >= 0 && /^END:VCARD\s*$/i.test(each)) {
      cards.push({ body: lines.slice(start, index + 1).join('\r\n'), line: start + 1 });
      start = -1;
    }
  });
  if (start >= 0) cards.push({ body: lines.slice(start).join('\r\n'), line: start + 1 });
  return cards;
}

function readCard(body: string): RawContact {
  if (!/END:VCARD\s*$/i.test(body)) throw new Error($localize`card is not closed`);
  const card = new ICAL.Component(ICAL.parse(asVersion3(body)) as never);
  const name = partsOf(card.getFirstProperty('n'));
  const address = partsOf(preferred(card, 'adr'));
  const firm = partsOf(card.getFirstProperty('org'))[0] ?? '';
  // A card of a company names it where a person's name would be.
  const isFirm =
    /^org/i.test(textOf(card.getFirstProperty('kind'))) ||
    /company/i.test(textOf(card.getFirstProperty('x-abshowas'))) ||
    (firm !== '' && textOf(card.getFirstProperty('fn')) === firm);
  const hasName = !isFirm && Boolean(name[0] || name[1]);
  return {
    ...(hasName
      ? { familyName: name[0] ?? '', givenName: name[1] ?? '' }
      : { fullName: isFirm ? '' : textOf(card.getFirstProperty('fn')) }),
    company: firm || (isFirm ? textOf(card.getFirstProperty('fn')) : ''),
    jobTitle: textOf(card.getFirstProperty('title')),
    email: textOf(preferred(card, 'email')),
    phone: textOf(preferred(card, 'tel'))
      .replace(/^tel:/i, '')
      .replace(/;ext=.*$/i, ''),
    street: address[2] ?? '',
    city: address[3] ?? '',
    postcode: address[5] ?? '',
    country: address[6] ?? '',
    website: textOf(card.getFirstProperty('url')),
    note: textOf(card.getFirstProperty('note')),
  };
}

/** Pictures, sounds and keys: read by nobody here, and long. */
const heavy = /^(?:[\w-]+\.)?(?:photo|logo|sound|key)[;:]/i;

/**
 * A card of version 2.1 or with groups in the form of version 3: `item1.EMAIL` without its group, `TEL;WORK;FAX` with the name of its
 * parameter, quoted-printable read, pictures left out. Older programs still write 2.1.
 */
function asVersion3(body: string): string {
  const isOld = /^VERSION:2\.1\s*$/im.test(body);
  // A line that ends with "=" in quoted-printable goes on in the next.
  const whole = body.replace(/\r\n|\r|\n/g, '\n').replace(/\n[ \t]/g, isOld ? ' ' : '');
  const joined = whole.replace(
    /^([^\n]*QUOTED-PRINTABLE[^\n]*?)((?:=\n[^\n]*)+)/gim,
    (_, first: string, rest: string) => first + rest.replace(/=\n/g, ''),
  );
  return joined
    .split('\n')
    .filter((line) => !heavy.test(line) && !/^[A-Za-z0-9+/=]{60,}$/.test(line))
    .map((line) => (isOld ? oldLine(line) : line).replace(/^[\w-]+\.(?=[\w-]+[;:])/, ''))
    .join('\r\n');
}

function oldLine(line: string): string {
  const colon = line.indexOf(':');
  if (colon < 0) return line;
  const [name = '', ...parameters] = line.slice(0, colon).split(';');
  if (/^version$/i.test(name)) return 'VERSION:3.0';
  const isQuoted = parameters.some((each) => /quoted-printable/i.test(each));
  const charset = /charset=([\w-]+)/i.exec(line.slice(0, colon))?.[1] ?? 'utf-8';
  const kept = parameters
    .filter((each) => !/^(?:encoding=|charset=|quoted-printable$)/i.test(each))
    .map((each) => (each.includes('=') ? each : `TYPE=${each}`));
  const value = line.slice(colon + 1);
  const text = isQuoted ? unquoted(value, charset).replace(/\r?\n/g, '\\n') : value;
  return `${[name, ...kept].join(';')}:${text}`;
}

/** Quoted-printable of RFC 2045, section 6.7. */
function unquoted(text: string, charset: string): string {
  const bytes = Uint8Array.from(
    text.replace(/=([0-9A-F]{2})/gi, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16))),
    (letter) => letter.charCodeAt(0),
  );
  try {
    return new TextDecoder(charset).decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}

/** `PREF=1` (4.0) or `TYPE=pref` (3.0) goes before the rest; else the first one. */
function preferred(card: ICAL.Component, name: string): ICAL.Property | null {
  const types = (property: ICAL.Property) =>
    [property.getParameter('type')].flat().flatMap((type) => type?.toLowerCase().split(',') ?? []);
  // A fax is no number to ring.
  const all = card
    .getAllProperties(name)
    .filter((property) => !(name === 'tel' && types(property).includes('fax')));
  const rank = (property: ICAL.Property) => {
    const pref = Number(property.getFirstParameter('pref'));
    if (pref > 0) return pref;
    return types(property).includes('pref') ? 1 : 101;
  };
  return [...all].sort((a, b) => rank(a) - rank(b))[0] ?? null;
}

function textOf(property: ICAL.Property | null): string {
  const value = property?.getFirstValue();
  return value === null || value === undefined ? '' : String(value).trim();
}

function partsOf(property: ICAL.Property | null): string[] {
  const value: unknown = property?.getFirstValue();
  if (value === null || value === undefined) return [];
  const parts = Array.isArray(value) ? value : [value];
  return parts.map((part) => String(Array.isArray(part) ? part.join(', ') : (part ?? '')).trim());
}
