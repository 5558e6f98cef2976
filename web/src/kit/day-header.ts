import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCalendar, MatCalendarHeader, MatDatepickerContent } from '@angular/material/datepicker';
import { isoWeekday, quickDays } from '@kettle/core/time';
import type { DateTime } from 'luxon';
import { CurrentUser } from '../services/current-user';
import { dayOf } from './day-adapter';

/** The head of the calendar: the days often meant, for a press each, over the month and its arrows. */
@Component({
  selector: 'kettle-day-header',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCalendarHeader],
  template: `
    <div class="quick">
      @for (each of days(); track each.name) {
        <button type="button" matButton (click)="pick(each.day)">{{ each.name }}</button>
      }
    </div>
    <mat-calendar-header />
  `,
  styles: `
    .quick {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 var(--space-2);
      padding: var(--space-2) var(--space-2) 0;
      border-block-end: 1px solid var(--hairline);
    }
    button {
      justify-content: start;
    }
  `,
})
export class DayHeader {
  private readonly user = inject(CurrentUser);
  private readonly calendar = inject<MatCalendar<DateTime>>(MatCalendar);
  private readonly panel = inject<MatDatepickerContent<unknown, DateTime>>(MatDatepickerContent);

  protected readonly days = computed(() => {
    const weekdays = this.user.person()?.hours?.weekdays ?? [1, 2, 3, 4, 5];
    return quickDays(this.user.today(), (day) => weekdays.includes(isoWeekday(day))).filter(({ day }) =>
      this.isOffered(dayOf(day)),
    );
  });

  protected pick(day: string): void {
    this.panel.datepicker.select(dayOf(day));
    this.panel.datepicker.close();
  }

  private isOffered(day: DateTime): boolean {
    const { minDate, maxDate } = this.calendar;
    return (minDate === null || day >= minDate) && (maxDate === null || day <= maxDate);
  }
}
