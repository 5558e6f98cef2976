import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  forwardRef,
  inject,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { type ControlValueAccessor, NG_VALIDATORS, NG_VALUE_ACCESSOR, type Validator } from '@angular/forms';
import { MatDatepickerModule } from '@angular/material/datepicker';
import { isoWeekday, readTypedDay } from '@kettle/core/time';
import type { DateTime } from 'luxon';
import { CurrentUser } from '../services/current-user';
import { dayOf, provideDays } from './day-adapter';
import { DayHeader } from './day-header';
import { fieldParts } from './field';

const unread = 'Write a day: 3 Dec, 3/12, fri, tomorrow or +2w.';
const weekdayName = (day: string) =>
  new Intl.DateTimeFormat('en-GB', { weekday: 'long', timeZone: 'UTC' }).format(new Date(`${day}T00:00:00Z`));

/**
 * A day: typed as people write it, or picked in a calendar that offers the days often meant. Its value is `2026-12-03`, or an empty text.
 * @example <kettle-day-field label="Due" [(value)]="dueOn" [problem]="problem()?.of('dueOn')" />
 */
@Component({
  selector: 'kettle-day-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatDatepickerModule],
  providers: [
    ...provideDays(),
    { provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => DayField), multi: true },
    { provide: NG_VALIDATORS, useExisting: forwardRef(() => DayField), multi: true },
  ],
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
        (dateInput)="take($event.value)"
        (blur)="leave()"
        (keydown.alt.arrowdown)="picker.open()"
        [min]="bound(min())"
        [max]="bound(max())"
        [required]="required()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
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
export class DayField implements ControlValueAccessor, Validator {
  private readonly user = inject(CurrentUser);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly header = DayHeader;

  readonly label = input('');
  /** Its name where there is no room for a label. */
  readonly ariaLabel = input('');
  /** `2026-12-03`, or an empty text. */
  readonly value = model('');
  readonly min = input<string | null>(null);
  readonly max = input<string | null>(null);
  readonly required = input(false, { transform: booleanAttribute });
  readonly problem = input<string | null | undefined>(null);
  readonly placeholder = input('');
  /** Says when a day off is picked; not for days that were, as a birthday. */
  readonly warns = input(false, { transform: booleanAttribute });

  private readonly isOff = signal(false);
  protected readonly isDisabled = this.isOff.asReadonly();
  /** It was left with something that is no day. */
  private readonly isUnread = signal(false);
  /** What the box is told to show: values from outside, not the one it was read from, so that typing is never written over. */
  protected readonly shown = signal<DateTime | null>(null);
  private lastRead = '';
  protected readonly wrong = computed(() => (this.isUnread() ? unread : this.problem()) || null);
  protected readonly warning = computed(() => {
    const day = this.value();
    return this.warns() && day !== '' && isoWeekday(day) > 5 ? `A ${weekdayName(day)}.` : null;
  });
  private changed: (day: string) => void = () => undefined;
  private left: () => void = () => undefined;
  private checkAgain: () => void = () => undefined;

  constructor() {
    effect(() => {
      const day = this.value();
      if (day === this.lastRead) return;
      this.lastRead = day;
      this.shown.set(day === '' ? null : dayOf(day));
    });
  }

  protected readonly bound = (day: string | null) => (day === null || day === '' ? null : dayOf(day));
  protected readonly classOf = (day: DateTime) => (day.weekday > 5 ? 'day-off' : '');

  protected take(day: DateTime | null): void {
    const read = day !== null && day.isValid ? day.toISODate()! : '';
    this.isUnread.set(false);
    if (read === this.value()) return;
    this.lastRead = read;
    this.value.set(read);
    this.changed(read);
  }

  /** Only now what is typed is said to be wrong: nobody is told off while typing. */
  protected leave(): void {
    const text = this.box().nativeElement.value;
    this.isUnread.set(
      text.trim() !== '' &&
        readTypedDay(text, { today: this.user.today(), locale: this.user.locale() }) === null,
    );
    this.left();
    this.checkAgain();
  }

  writeValue(day: string | null): void {
    this.value.set(day ?? '');
    this.isUnread.set(false);
  }
  registerOnChange(changed: (day: string) => void): void {
    this.changed = changed;
  }
  registerOnValidatorChange(checkAgain: () => void): void {
    this.checkAgain = checkAgain;
  }
  registerOnTouched(left: () => void): void {
    this.left = left;
  }
  setDisabledState(isDisabled: boolean): void {
    this.isOff.set(isDisabled);
  }
  validate(): { unread: true } | null {
    return this.isUnread() ? { unread: true } : null;
  }
  focus(): void {
    this.box().nativeElement.focus();
  }
}
