import type { Instant } from '@kettle/contract';
import type { CardFile } from '@kettle/contract/base/list-files';
import ICAL from 'ical.js';
import { folded, plain } from '../content-lines';

interface Point {
  readonly kind: 'email' | 'phone' | 'link';
  readonly value: string;
}

/** A person, or a firm without one, as an address book has them. */
export interface Card {
  readonly uid: string;
  readonly changedAt: Instant;
  readonly isFirm: boolean;
  readonly name: string;
  readonly givenName: string;
  readonly familyName: string;
  readonly company: string;
  readonly jobTitle: string;
  /** The preferred one of each kind first. */
  readonly points: readonly Point[];
  readonly street: string;
  readonly postcode: string;
  readonly city: string;
  /** In words. */
  readonly country: string;
  readonly note: string;
  readonly tags: readonly string[];
}

type Property = [name: string, parameters: Record<string, string>, type: string, ...values: unknown[]];

/**
 * Cards of people in vCard 3.0 (RFC 2426) or 4.0 (RFC 6350), lines folded at 75 octets.
 * @example writeVCards([], 'vcard-4') is ''
 */
export const writeVCards = (cards: readonly Card[], as: CardFile): string =>
  cards
    .map((card) => folded(ICAL.stringify(['vcard', propertiesOf(card, as).map(said), []] as never)))
    .join('');

const said = ([name, parameters, type, ...values]: Property): Property => [
  name,
  parameters,
  type,
  ...values.map(plainly),
];
const plainly = (value: unknown): unknown =>
  Array.isArray(value) ? value.map(plainly) : plain(String(value));

function propertiesOf(card: Card, as: CardFile): Property[] {
  const is4 = as === 'vcard-4';
  const when = (condition: unknown, ...properties: Property[]) => (condition ? properties : []);
  const text = (name: string, value: string) => when(value !== '', [name, {}, 'text', value]);
  const { street, city, postcode, country } = card;
  return [
    ['version', {}, 'text', is4 ? '4.0' : '3.0'],
    ['uid', {}, is4 ? 'uri' : 'text', `urn:uuid:${card.uid}`],
    ...when(is4 && card.isFirm, ['kind', {}, 'text', 'org']),
    ['fn', {}, 'text', card.name],
    // Version 3 asks for a name in parts even of a firm.
    ...when(!is4 || !card.isFirm, ['n', {}, 'text', [card.familyName, card.givenName, '', '', '']]),
    ...when(card.company !== '', ['org', {}, 'text', [card.company]]),
    ...text('title', card.jobTitle),
    ...pointsOf(card.points, is4),
    ...when(
      [street, city, postcode, country].some((part) => part !== ''),
      ['adr', is4 ? {} : { type: 'work' }, 'text', ['', '', street, city, '', postcode, country]],
    ),
    ...when(card.tags.length > 0, ['categories', {}, 'text', ...card.tags]),
    ...text('note', card.note),
    is4
      ? ['rev', {}, 'timestamp', card.changedAt.replace(/\.\d+/, '')]
      : ['rev', {}, 'date-time', card.changedAt.replace(/\.\d+/, '')],
  ];
}

const names = { email: 'email', phone: 'tel', link: 'url' } as const;

function pointsOf(points: readonly Point[], is4: boolean): Property[] {
  const firsts = new Set(
    (['email', 'phone', 'link'] as const).map((kind) => points.find((point) => point.kind === kind)),
  );
  return points.map((point): Property => {
    const isFirst = firsts.has(point) && points.filter(({ kind }) => kind === point.kind).length > 1;
    const parameters: Record<string, string> = isFirst ? (is4 ? { pref: '1' } : { type: 'pref' }) : {};
    if (point.kind === 'link') return [names.link, parameters, 'uri', point.value];
    const isCall = is4 && point.kind === 'phone' && /^\+\d+$/.test(point.value);
    return [
      names[point.kind],
      parameters,
      isCall ? 'uri' : !is4 && point.kind === 'phone' ? 'phone-number' : 'text',
      isCall ? `tel:${point.value}` : point.value,
    ];
  });
}
