import type { Instant, PlainDate } from '@kettle/contract';
import ICAL from 'ical.js';
import { folded, plain } from '../content-lines';
import { partStats, type InvitationAnswer, type Party } from './party';

/** An appointment as other calendars are told of it. Times are instants: they are written in UTC, which needs no table of zones. */
export interface CalendarEvent {
  readonly uid: string;
  readonly sequence: number;
  readonly stampedAt: Instant;
  readonly startsAt: Instant;
  readonly endsAt: Instant;
  readonly title: string;
  readonly place: string | null;
  readonly description: string | null;
  readonly isCancelled: boolean;
  readonly organizer: Party | null;
  readonly attendees: readonly (Party & { readonly answer: InvitationAnswer })[];
}

/** A task, due on a day or at a moment. */
export interface CalendarTodo {
  readonly uid: string;
  readonly sequence: number;
  readonly stampedAt: Instant;
  readonly due: { readonly on: PlainDate } | { readonly at: Instant };
  readonly title: string;
  readonly description: string | null;
}

/** What a calendar object is for: an invitation, its withdrawal, the answer to one (RFC 5546); left out, it is a calendar to look at. */
export type CalendarMethod = 'REQUEST' | 'CANCEL' | 'REPLY';

export interface CalendarText {
  readonly method?: CalendarMethod;
  /** What a subscriber's list of calendars calls it (RFC 7986, 5.1). */
  readonly name?: string;
  readonly events: readonly CalendarEvent[];
  readonly todos?: readonly CalendarTodo[];
}

const product = '-//Ash Kettle//Calendar//EN';

/**
 * An iCalendar object: lines of at most 75 octets that end in CRLF (RFC 5545, 3.1).
 * @example writeCalendar({ method: 'REQUEST', events: [event] }) begins with 'BEGIN:VCALENDAR\r\nPRODID:'
 */
export function writeCalendar({ method, name, events, todos = [] }: CalendarText): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('prodid', product);
  calendar.addPropertyWithValue('version', '2.0');
  calendar.addPropertyWithValue('calscale', 'GREGORIAN');
  if (method !== undefined) calendar.addPropertyWithValue('method', method);
  if (name !== undefined) calendar.addPropertyWithValue('name', plain(name));
  for (const event of events) calendar.addSubcomponent(eventOf(event));
  for (const todo of todos) calendar.addSubcomponent(todoOf(todo));
  return folded(calendar.toString());
}

function eventOf(event: CalendarEvent): ICAL.Component {
  const made = new ICAL.Component('vevent');
  made.addPropertyWithValue('uid', event.uid);
  made.addPropertyWithValue('sequence', event.sequence);
  made.addPropertyWithValue('dtstamp', timeOf(event.stampedAt));
  made.addPropertyWithValue('dtstart', timeOf(event.startsAt));
  made.addPropertyWithValue('dtend', timeOf(event.endsAt));
  made.addPropertyWithValue('summary', plain(event.title));
  if (event.place !== null) made.addPropertyWithValue('location', plain(event.place));
  if (event.description !== null) made.addPropertyWithValue('description', plain(event.description));
  made.addPropertyWithValue('status', event.isCancelled ? 'CANCELLED' : 'CONFIRMED');
  if (event.organizer !== null) addParty(made, 'organizer', event.organizer);
  for (const attendee of event.attendees) {
    const added = addParty(made, 'attendee', attendee);
    added.setParameter('role', 'REQ-PARTICIPANT');
    added.setParameter('partstat', partStats[attendee.answer]);
    if (attendee.answer === 'none') added.setParameter('rsvp', 'TRUE');
  }
  return made;
}

function todoOf(todo: CalendarTodo): ICAL.Component {
  const made = new ICAL.Component('vtodo');
  made.addPropertyWithValue('uid', todo.uid);
  made.addPropertyWithValue('sequence', todo.sequence);
  made.addPropertyWithValue('dtstamp', timeOf(todo.stampedAt));
  made.addPropertyWithValue(
    'due',
    'on' in todo.due ? ICAL.Time.fromDateString(todo.due.on) : timeOf(todo.due.at),
  );
  made.addPropertyWithValue('summary', plain(todo.title));
  if (todo.description !== null) made.addPropertyWithValue('description', plain(todo.description));
  made.addPropertyWithValue('status', 'NEEDS-ACTION');
  return made;
}

function addParty(
  component: ICAL.Component,
  as: 'organizer' | 'attendee',
  { name, email }: Party,
): ICAL.Property {
  const property = new ICAL.Property(as, component);
  property.setValue(`mailto:${email}`);
  // A quotation mark cannot stand in a parameter, and its escape (RFC 6868) is shown as it is by some.
  const said = plain(name).replaceAll('"', '’').replaceAll('\n', ' ').trim();
  if (said !== '') property.setParameter('cn', said);
  component.addProperty(property);
  return property;
}

/** Full seconds in UTC. */
function timeOf(at: Instant): ICAL.Time {
  return ICAL.Time.fromDateTimeString(`${at.slice(0, 19)}Z`);
}
