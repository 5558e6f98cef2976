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
 * Reads vCard 3.0 (RFC 2426) and 4.0 (RFC 6350): name, organisation, title, first or preferred e-mail, telephone,
 * address, web page and note. A broken card is reported with its line, and the others go on.
 */
export function readVCards(text: string): ReadCards {
  const cards: ReadCard[] = [];
  const unreadable: { line: number; reason: string }[] = [];
  for (const { body, line } of splitCards(text)) {
    try {
      cards.push({ line, raw: readCard(body) });
    } catch {
      unreadable.push({ line, reason: $localize`the card cannot be read as vCard 3.0 or 4.0` });
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
  const card = new ICAL.Component(ICAL.parse(body) as never);
  const name = partsOf(card.getFirstProperty('n'));
  const address = partsOf(preferred(card, 'adr'));
  const hasName = Boolean(name[0] || name[1]);
  return {
    ...(hasName
      ? { familyName: name[0] ?? '', givenName: name[1] ?? '' }
      : { fullName: textOf(card.getFirstProperty('fn')) }),
    company: partsOf(card.getFirstProperty('org'))[0] ?? '',
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

/** `PREF=1` (4.0) or `TYPE=pref` (3.0) goes before the rest; else the first one. */
function preferred(card: ICAL.Component, name: string): ICAL.Property | null {
  const all = card.getAllProperties(name);
  const rank = (property: ICAL.Property) => {
    const pref = Number(property.getFirstParameter('pref'));
    if (pref > 0) return pref;
    return [property.getParameter('type')].flat().some((type) => type?.toLowerCase() === 'pref') ? 1 : 101;
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
