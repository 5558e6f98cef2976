import type { Instant } from '@kettle/contract';
import ICAL from 'ical.js';
import { localMoment } from '../time';

/** In which zones the times of a calendar are read. */
export interface Zones {
  /** Those whose tables the calendar brings. */
  readonly tables: ReadonlyMap<string, ICAL.Timezone>;
  /** The reader's. */
  readonly zone: string;
}

export function zonesOf(calendar: ICAL.Component): ReadonlyMap<string, ICAL.Timezone> {
  return new Map(
    calendar.getAllSubcomponents('vtimezone').map((table) => {
      const zone = new ICAL.Timezone(table);
      return [zone.tzid, zone];
    }),
  );
}

export interface Moment {
  readonly at: Instant;
  readonly isAllDay: boolean;
  /** Its zone was not said or is not known. */
  readonly isGuessed: boolean;
}

/** When a property's first value is: by UTC, by the table the calendar brings, by the name of its zone, else as the reader's own. */
export function momentOf(property: ICAL.Property | null, zones: Zones): Moment | null {
  const time = property?.getFirstValue() as ICAL.Time | null | undefined;
  if (!property || !(time instanceof ICAL.Time)) return null;
  return momentIn(time, clockOf(property, zones));
}

/** How the clock is read that a property speaks of. */
export interface Clock {
  readonly table: ICAL.Timezone | null;
  readonly zone: string;
  readonly isGuessed: boolean;
}

export function clockOf(property: ICAL.Property, { tables, zone }: Zones): Clock {
  const name = one(property.getParameter('tzid')) ?? '';
  const table = tables.get(name) ?? null;
  const known = knownZone(name);
  return { table, zone: known ?? zone, isGuessed: table === null && known === null };
}

export function momentIn(time: ICAL.Time, { table, zone, isGuessed }: Clock): Moment {
  const on = `${pad(time.year, 4)}-${pad(time.month)}-${pad(time.day)}`;
  if (time.isDate) return { at: localMoment(on, 0, zone), isAllDay: true, isGuessed: false };
  const minute = time.hour * 60 + time.minute;
  const later = (at: Instant, seconds: number) => new Date(Date.parse(at) + seconds * 1000).toISOString();
  if (time.zone === ICAL.Timezone.utcTimezone)
    return { at: later(localMoment(on, minute, 'UTC'), time.second), isAllDay: false, isGuessed: false };
  if (table !== null) {
    const at = later(localMoment(on, minute, 'UTC'), time.second - table.utcOffset(time));
    return { at, isAllDay: false, isGuessed: false };
  }
  return { at: later(localMoment(on, minute, zone), time.second), isAllDay: false, isGuessed };
}

/** `/freeassociation.example/Europe/London` ends in the name of a zone; others are it. */
function knownZone(name: string): string | null {
  const tries = [name, name.split('/').slice(-2).join('/')];
  return tries.find((each) => each !== '' && isZone(each)) ?? null;
}

function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** RFC 5545, 3.6.1: without end and length a day is its own, a moment takes no time. In minutes. */
export function lengthOf(event: ICAL.Component, isAllDay: boolean): number {
  const said = event.getFirstPropertyValue('duration');
  if (said instanceof ICAL.Duration) return Math.max(0, Math.round(said.toSeconds() / 60));
  return isAllDay ? 1440 : 0;
}

export const one = (value: string | string[] | undefined): string | null =>
  (Array.isArray(value) ? value[0] : value) ?? null;

export const textOf = (component: ICAL.Component, name: string): string | null => {
  const value = component.getFirstPropertyValue(name);
  return typeof value === 'string' ? value.trim() : null;
};

const pad = (value: number, width = 2) => String(value).padStart(width, '0');
