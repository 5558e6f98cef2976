import type { WorkingHours } from '@kettle/contract';
import type { WorkingCalendar } from '@kettle/core/time';
import Holidays from 'date-holidays';
import type { Clock } from '../../platform/clock';

/** Business hours taken for a contact until more is known about them. */
export const usualHours: WorkingHours = { weekdays: [1, 2, 3, 4, 5], start: 9 * 60, end: 17 * 60 + 30 };

const yearsBack = 2;
const yearsAhead = 3;
/** Countries whose bank holidays differ by part: the part most people live in. */
const mainRegion: Readonly<Record<string, string>> = { GB: 'ENG' };
const regionNames = new Intl.DisplayNames(['en-GB'], { type: 'region' });

/** Working calendars by country, with their public holidays, made once each. */
export class Calendars {
  private readonly calendars = new Map<string, WorkingCalendar>();

  constructor(private readonly clock: Clock) {}

  /** The same object for the same country, zone and hours, so that callers may compare and cache by it. */
  of(country: string, zone: string, hours: WorkingHours = usualHours): WorkingCalendar {
    const key = `${country} ${zone} ${hours.weekdays.join('')} ${hours.start} ${hours.end}`;
    const known = this.calendars.get(key);
    if (known) return known;
    const made: WorkingCalendar = {
      zone,
      weekdays: hours.weekdays,
      startMinute: hours.start,
      endMinute: hours.end,
      holidays: holidaysOf(country, Number(this.clock.now().slice(0, 4))),
      place: regionNames.of(country) ?? country,
    };
    this.calendars.set(key, made);
    return made;
  }
}

const holidaysKnown = new Map<string, ReadonlyMap<string, string>>();

/** Public and bank holidays of a country around a year, by day; computed once for each. */
function holidaysOf(country: string, year: number): ReadonlyMap<string, string> {
  const key = `${country} ${year}`;
  const known = holidaysKnown.get(key);
  if (known) return known;
  const made = new Map<string, string>();
  const source = mainRegion[country] ? new Holidays(country, mainRegion[country]) : new Holidays(country);
  for (let each = year - yearsBack; each <= year + yearsAhead; each += 1)
    for (const day of source.getHolidays(each, 'en'))
      if (day.type === 'public' || day.type === 'bank') made.set(day.date.slice(0, 10), day.name);
  holidaysKnown.set(key, made);
  return made;
}

/** Countries with several zones: the one most people live in. */
const mainZones: Readonly<Record<string, string>> = {
  AU: 'Australia/Sydney',
  BR: 'America/Sao_Paulo',
  CA: 'America/Toronto',
  CL: 'America/Santiago',
  CY: 'Asia/Nicosia',
  DE: 'Europe/Berlin',
  ES: 'Europe/Madrid',
  MX: 'America/Mexico_City',
  NZ: 'Pacific/Auckland',
  PT: 'Europe/Lisbon',
  UA: 'Europe/Kyiv',
  US: 'America/New_York',
};

/** The zone most of a country lives in, for a contact of whom only the country is known. */
export function zoneOfCountry(country: string, fallback: string): string {
  return mainZones[country] ?? zonesOf(country)[0] ?? fallback;
}

/** Zones of a country as the runtime knows them; newer runtimes have a method where older ones have a property. */
function zonesOf(country: string): readonly string[] {
  const locale = new Intl.Locale(`und-${country}`) as Intl.Locale & {
    timeZones?: string[];
    getTimeZones?: () => string[];
  };
  return locale.getTimeZones?.() ?? locale.timeZones ?? [];
}
