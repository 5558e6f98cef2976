import type { Instant } from '@kettle/contract';
import ICAL from 'ical.js';
import { addMinutes } from '../time';
import { lengthOf, momentOf, one, textOf, zonesOf, type Zones } from './moments';
import { answerOf, type InvitationAnswer, type Party } from './party';

export interface ReadEvent {
  readonly uid: string;
  readonly sequence: number;
  /** When it was written; null where it is not said. */
  readonly stampedAt: Instant | null;
  readonly startsAt: Instant;
  readonly endsAt: Instant;
  readonly isAllDay: boolean;
  /** Its zone was not said or is not known: it was read as the reader's own. */
  readonly isZoneGuessed: boolean;
  readonly title: string;
  readonly place: string | null;
  readonly description: string | null;
  readonly isCancelled: boolean;
  /** It comes again by a rule, or it is one occurrence of such a one. */
  readonly repeats: boolean;
  readonly organizer: Party | null;
  readonly attendees: readonly (Party & { readonly answer: InvitationAnswer })[];
  /** What the writer said with an answer. */
  readonly comment: string | null;
}

export interface ReadCalendar {
  /** REQUEST, REPLY, CANCEL, COUNTER … in capitals; null for a calendar to look at. */
  readonly method: string | null;
  readonly events: readonly ReadEvent[];
}

/** Longer ones are not read: a file of a megabyte takes a fortieth of a second, and an invitation is two kilobytes. */
const mostLetters = 1_000_000;
const mostEvents = 2000;

/**
 * The events of an iCalendar object, however the program that wrote it puts things: capitals in `MAILTO:`, a length instead of an end, zones with
 * or without their tables, lines that end in LF alone.
 * @param zone in which times without a zone are read
 * @returns null for what is no calendar, or too long
 */
export function readCalendar(text: string, zone: string): ReadCalendar | null {
  if (text.length > mostLetters) return null;
  try {
    const root = new ICAL.Component(ICAL.parse(text.trim()) as never[]);
    const calendar = root.name === 'vcalendar' ? root : null;
    if (calendar === null) return null;
    const zones = { tables: zonesOf(calendar), zone };
    const events = calendar
      .getAllSubcomponents('vevent')
      .slice(0, mostEvents)
      .flatMap((event) => eventOf(event, zones) ?? []);
    return { method: textOf(calendar, 'method')?.toUpperCase() ?? null, events };
  } catch {
    return null;
  }
}

function eventOf(event: ICAL.Component, zones: Zones): ReadEvent | null {
  const uid = textOf(event, 'uid');
  const start = momentOf(event.getFirstProperty('dtstart'), zones);
  if (uid === null || uid === '' || start === null) return null;
  const end = momentOf(event.getFirstProperty('dtend'), zones);
  const length = lengthOf(event, start.isAllDay);
  const endsAt = end?.at ?? addMinutes(start.at, length);
  const stamp = momentOf(event.getFirstProperty('dtstamp'), zones);
  const sequence = Number(event.getFirstPropertyValue('sequence') ?? 0);
  return {
    uid,
    sequence: Number.isInteger(sequence) && sequence >= 0 ? sequence : 0,
    stampedAt: stamp?.at ?? null,
    startsAt: start.at,
    // What ends before it begins is broken: it is taken as a moment.
    endsAt: endsAt < start.at ? start.at : endsAt,
    isAllDay: start.isAllDay,
    isZoneGuessed: start.isGuessed,
    title: textOf(event, 'summary') ?? '',
    place: textOf(event, 'location') || null,
    description: textOf(event, 'description') || null,
    isCancelled: textOf(event, 'status')?.toUpperCase() === 'CANCELLED',
    repeats: ['rrule', 'rdate', 'recurrence-id'].some((name) => event.hasProperty(name)),
    organizer: partyOf(event.getFirstProperty('organizer')),
    attendees: event.getAllProperties('attendee').flatMap((attendee) => {
      const party = partyOf(attendee);
      return party === null ? [] : [{ ...party, answer: answerOf(one(attendee.getParameter('partstat'))) }];
    }),
    comment: textOf(event, 'comment') || null,
  };
}

function partyOf(property: ICAL.Property | null): Party | null {
  if (property === null) return null;
  const address = /^mailto:(.+)$/i.exec(String(property.getFirstValue() ?? '').trim())?.[1];
  if (address === undefined) return null;
  return { email: address.trim().toLowerCase(), name: one(property.getParameter('cn')) ?? '' };
}
