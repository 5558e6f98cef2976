import type { HolidayRegion, OrganisationSettings, WorkingHours } from '@kettle/contract';
import { addDays, localMoment, type WorkingCalendar } from '@kettle/core/time';
import Holidays from 'date-holidays';
import type { Clock } from '../../platform/clock';

/** Business hours taken until more is known: its weekdays are those of most countries. */
export const usualHours: WorkingHours = { weekdays: [1, 2, 3, 4, 5], start: 9 * 60, end: 17 * 60 + 30 };

const yearsBack = 2;
const yearsAhead = 3;
/** Countries whose holidays differ by part: the part most people live in (common knowledge, no source). */
const mainRegion: Readonly<Record<string, string>> = {
  ...{ AU: 'NSW', BR: 'SP', CA: 'ON', CH: 'ZH', DE: 'NW', ES: 'AN', GB: 'ENG' },
};
const regionNames = new Intl.DisplayNames(['en-GB'], { type: 'region' });

/** Where somebody works, and when if that is known: a contact keeps the hours and the weekend of their country. */
interface Place {
  readonly country: string;
  readonly zone: string;
  readonly hours?: WorkingHours;
  /** Days on which somebody is away, both included. */
  readonly absences?: readonly { readonly from: string; readonly to: string }[];
}

/** What the organisation says of days off: which part of a country counts, whether half days do, and its own days. */
type DaysOff = Pick<OrganisationSettings, 'regions' | 'halfDaysOff' | 'ownDaysOff'>;

/** Until somebody says otherwise. */
export const usualDaysOff: DaysOff = { regions: {}, halfDaysOff: false, ownDaysOff: [] };

/** Working calendars by country, with their public holidays, made once each. */
export class Calendars {
  private readonly calendars = new Map<string, WorkingCalendar>();

  constructor(private readonly clock: Clock) {}

  /** The same object for the same place and days off, so that callers may compare and cache by it. The organisation's own days are its people's only. */
  of(
    { country, zone, hours, absences = [] }: Place,
    { regions, halfDaysOff, ownDaysOff }: DaysOff,
  ): WorkingCalendar {
    const year = Number(this.clock.now().slice(0, 4));
    const region = regions[country] ?? mainRegion[country] ?? '';
    const { weekdays, start, end } = hours ?? { ...usualHours, weekdays: weekdaysOf(country) };
    const own = hours === undefined ? [] : ownDaysOff;
    const key = JSON.stringify([
      country,
      region,
      halfDaysOff,
      zone,
      weekdays,
      start,
      end,
      own,
      absences,
      year,
    ]);
    const known = this.calendars.get(key);
    if (known) return known;
    const made: WorkingCalendar = {
      ...{ zone, weekdays, startMinute: start, endMinute: end },
      holidays: new Map([
        ...holidaysOf({ country, region, halfDaysOff, year }),
        ...own.map(({ on, name }) => [on, name] as const),
        ...absences.flatMap(daysAway),
      ]),
      place: regionNames.of(country) ?? country,
    };
    this.calendars.set(key, made);
    return made;
  }
}

const away = $localize`away`;

function daysAway({
  from,
  to,
}: {
  readonly from: string;
  readonly to: string;
}): (readonly [string, string])[] {
  const days: (readonly [string, string])[] = [];
  for (let day = from; day <= to; day = addDays(day, 1)) days.push([day, away]);
  return days;
}

/** The parts of a country whose holidays differ, in order of their names. */
export function regionsOf(country: string): HolidayRegion[] {
  const found = Object.entries(new Holidays().getStates(country, 'en') ?? {});
  return found
    .map(([code, name]) => ({ code, name, isUsual: mainRegion[country] === code }))
    .sort((one, other) => one.name.localeCompare(other.name));
}

/** Weekdays that are not the country's weekend by CLDR, ISO. @example weekdaysOf('EG') is [1, 2, 3, 4, 7] */
export function weekdaysOf(country: string): readonly number[] {
  const locale = new Intl.Locale(`und-${country}`) as Intl.Locale & {
    weekInfo?: { weekend: number[] };
    getWeekInfo?: () => { weekend: number[] };
  };
  const weekend = (locale.getWeekInfo?.() ?? locale.weekInfo)?.weekend ?? [6, 7];
  return [1, 2, 3, 4, 5, 6, 7].filter((day) => !weekend.includes(day));
}

interface Asked {
  readonly country: string;
  readonly region: string;
  readonly halfDaysOff: boolean;
  readonly year: number;
}

const holidaysKnown = new Map<string, ReadonlyMap<string, string>>();

/** Days off in a part of a country around a year; computed once for each. A day counts when its noon is free, or any of it where half days do. */
function holidaysOf(asked: Asked): ReadonlyMap<string, string> {
  const key = JSON.stringify(asked);
  const known = holidaysKnown.get(key);
  if (known) return known;
  const { country, region, halfDaysOff, year } = asked;
  const made = new Map<string, string>();
  const source = region === '' ? new Holidays(country) : new Holidays(country, region);
  for (let each = year - yearsBack; each <= year + yearsAhead; each += 1)
    for (const { type, date, start, end, name } of source.getHolidays(each, 'en')) {
      if (type !== 'public' && !(halfDaysOff && type === 'bank')) continue;
      const zone = source.getTimezones()[0] ?? 'UTC';
      const moments = [start.toISOString(), end.toISOString()] as const;
      for (let day = date.slice(0, 10); localMoment(day, 0, zone) < moments[1]; day = addDays(day, 1)) {
        const noon = localMoment(day, 12 * 60, zone);
        if (halfDaysOff || (noon >= moments[0] && noon < moments[1])) made.set(day, name);
      }
    }
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

/** The zone of a country; of the organisation's own its own. */
export const zoneAt = (
  country: string,
  { homeCountry, homeZone }: { readonly homeCountry: string; readonly homeZone: string },
): string => (country === homeCountry ? homeZone : zoneOfCountry(country, homeZone));

/** Zones of a country as the runtime knows them; newer runtimes have a method where older ones have a property. */
function zonesOf(country: string): readonly string[] {
  const locale = new Intl.Locale(`und-${country}`) as Intl.Locale & {
    timeZones?: string[];
    getTimeZones?: () => string[];
  };
  return locale.getTimeZones?.() ?? locale.timeZones ?? [];
}
