import { inject, Injectable, type Provider } from '@angular/core';
import { DateAdapter, MAT_DATE_FORMATS, MAT_DATE_LOCALE } from '@angular/material/core';
import { MatDatepickerIntl } from '@angular/material/datepicker';
import { LuxonDateAdapter, MAT_LUXON_DATE_ADAPTER_OPTIONS } from '@angular/material-luxon-adapter';
import { is12Hours, isMonthFirst } from '@kettle/core/locale';
import { readTypedDay, readTypedMinute } from '@kettle/core/time';
import { DateTime } from 'luxon';
import { CurrentUser } from '../services/current-user';

/**
 * Calendar days and times of day as people type them. Days are midnights of UTC, so that no zone moves them. What cannot be read is none:
 * the fields say so themselves, and luxon throws on what is invalid.
 */
@Injectable()
export class DayAdapter extends LuxonDateAdapter {
  private readonly user = inject(CurrentUser);

  override today(): DateTime {
    return dayOf(this.user.today());
  }

  override parse(value: unknown): DateTime | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const day = readTypedDay(value, { today: this.user.today(), locale: this.locale });
    return day === null ? null : dayOf(day);
  }

  override parseTime(value: unknown): DateTime | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const minute = readTypedMinute(value);
    return minute === null ? null : dayOf('2000-01-01').plus({ minutes: minute });
  }
}

export const dayOf = (day: string): DateTime => DateTime.fromISO(day, { zone: 'utc' });

/** What is shown is read back: a weekday in front is passed over. */
const formats = () => ({
  parse: { dateInput: 'D', timeInput: 't' },
  display: {
    dateInput: isMonthFirst() ? 'ccc, LLL d, yyyy' : 'ccc d LLL yyyy',
    timeInput: is12Hours() ? 'h:mm a' : 'HH:mm',
    timeOptionLabel: is12Hours() ? 'h:mm a' : 'HH:mm',
    monthYearLabel: 'LLLL yyyy',
    dateA11yLabel: isMonthFirst() ? 'cccc, LLLL d, yyyy' : 'cccc d LLLL yyyy',
    monthYearA11yLabel: 'LLLL yyyy',
  },
});

/** 0 for Sunday to 6; Monday where the browser does not know (Unicode's week data). */
export function firstWeekday(locale: string): number {
  const known = new Intl.Locale(locale) as Intl.Locale & {
    getWeekInfo?: () => { firstDay: number };
    weekInfo?: { firstDay: number };
  };
  return ((known.getWeekInfo?.() ?? known.weekInfo)?.firstDay ?? 1) % 7;
}

/** What the calendar tells a screen reader. */
@Injectable()
class CalendarWords extends MatDatepickerIntl {
  override calendarLabel = $localize`Calendar`;
  override openCalendarLabel = $localize`Open calendar`;
  override closeCalendarLabel = $localize`Close calendar`;
  override prevMonthLabel = $localize`Previous month`;
  override nextMonthLabel = $localize`Next month`;
  override prevYearLabel = $localize`Previous year`;
  override nextYearLabel = $localize`Next year`;
  override prevMultiYearLabel = $localize`Previous 24 years`;
  override nextMultiYearLabel = $localize`Next 24 years`;
  override switchToMonthViewLabel = $localize`Choose date`;
  override switchToMultiYearViewLabel = $localize`Choose month and year`;
}

/** For the parts that show days; at the root it would come with the first load. */
export const provideDays = (): Provider[] => [
  { provide: MAT_DATE_LOCALE, useFactory: () => inject(CurrentUser).locale() },
  {
    provide: MAT_LUXON_DATE_ADAPTER_OPTIONS,
    useFactory: () => ({ useUtc: true, firstDayOfWeek: firstWeekday(inject(CurrentUser).locale()) }),
  },
  { provide: DateAdapter, useClass: DayAdapter },
  { provide: MAT_DATE_FORMATS, useFactory: formats },
  { provide: MatDatepickerIntl, useClass: CalendarWords },
];
