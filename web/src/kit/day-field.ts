import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { MatDatepickerModule } from '@angular/material/datepicker';
import { readTypedDay } from '@kettle/core/time';
import type { DateTime } from 'luxon';
import { CurrentUser } from '../services/current-user';
import { dayOf, provideDays } from './day-adapter';
import { DayHeader } from './day-header';
import { fieldParts } from './field';
import { TypedField, typedField } from './typed-field';

/**
 * A day: typed as people write it, or picked in a calendar that offers the days often meant. Its value is `2026-12-03`, or an empty text.
 * @example <kettle-day-field label="Due" [(value)]="dueOn" [problem]="problem()?.of('dueOn')" />
 */
@Component({
  selector: 'kettle-day-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatDatepickerModule],
  providers: [provideDays(), typedField(() => DayField)],
  template: `
    <mat-form-field>
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        #box
        matInput
        autocomplete="off"
        [matDatepicker]="picker"
        [value]="shown()"
        (input)="retype()"
        (dateInput)="take($event.value)"
        (blur)="leave()"
        (keydown.alt.arrowdown)="picker.open()"
        [min]="bound(min())"
        [max]="bound(max())"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
        [attr.cdkFocusInitial]="startsHere() ? '' : null"
        [kettleProblem]="wrong()"
      />
      <mat-datepicker-toggle matIconSuffix [for]="picker" tabindex="-1" />
      <mat-datepicker #picker [calendarHeaderComponent]="header" [dateClass]="classOf" />
      @if (wrong(); as words) {
        <mat-error>{{ words }}</mat-error>
      } @else if (warning(); as words) {
        <mat-hint>{{ words }}</mat-hint>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
  `,
})
export class DayField extends TypedField<string> {
  private readonly user = inject(CurrentUser);
  protected readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  protected readonly header = DayHeader;
  protected readonly empty = '';

  /** `2026-12-03`, or an empty text. */
  readonly value = model('');
  readonly min = input<string | null>(null);
  readonly max = input<string | null>(null);
  /** Says when a day off is picked; not for days that were, as a birthday. */
  readonly warns = input(false, { transform: booleanAttribute });

  protected readonly shown = signal<DateTime | null>(null);
  protected readonly warning = computed(() => {
    const day = this.value();
    const why = this.warns() && day !== '' ? this.user.whyOff(day) : null;
    return why === null ? null : $localize`${why}, a day off.`;
  });

  protected readonly bound = (day: string | null) => (day === null || day === '' ? null : dayOf(day));
  protected readonly classOf = (day: DateTime) =>
    this.user.whyOff(day.toISODate() ?? '') === null ? '' : 'day-off';

  protected take(day: DateTime | null): void {
    this.put(day !== null && day.isValid ? day.toISODate()! : '');
  }

  protected unread(): string {
    return $localize`Write a day: 3 Dec, 3/12, fri, tomorrow or +2w.`;
  }

  protected show(day: string): void {
    this.shown.set(day === '' ? null : dayOf(day));
  }

  protected isUnreadable(text: string): boolean {
    return readTypedDay(text, { today: this.user.today(), locale: this.user.locale() }) === null;
  }
}
