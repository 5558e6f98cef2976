import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  forwardRef,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { type ControlValueAccessor, NG_VALIDATORS, NG_VALUE_ACCESSOR, type Validator } from '@angular/forms';
import { MatTimepickerModule } from '@angular/material/timepicker';
import { readTypedMinute, sayMinute } from '@kettle/core/time';
import type { DateTime } from 'luxon';
import { dayOf, provideDays } from './day-adapter';
import { fieldParts } from './field';

const unread = 'Write a time: 9, 9:30, 14.15 or 2pm.';

/**
 * A time of day, typed as people write it or picked from the quarters of an hour. Its value is `09:30`, or an empty text.
 * @example <kettle-time-field label="At" [(value)]="at" />
 */
@Component({
  selector: 'kettle-time-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatTimepickerModule],
  providers: [
    ...provideDays(),
    { provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => TimeField), multi: true },
    { provide: NG_VALIDATORS, useExisting: forwardRef(() => TimeField), multi: true },
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
        [matTimepicker]="picker"
        [value]="shown()"
        (valueChange)="take($event)"
        (input)="read(box.value)"
        (blur)="leave()"
        [required]="required()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
        [kettleProblem]="wrong()"
      />
      <mat-timepicker-toggle matIconSuffix [for]="picker" tabindex="-1" />
      <mat-timepicker #picker interval="15m" />
      @if (wrong(); as words) {
        <mat-error>{{ words }}</mat-error>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
  `,
})
export class TimeField implements ControlValueAccessor, Validator {
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  readonly label = input('');
  readonly ariaLabel = input('');
  /** `09:30`, or an empty text. */
  readonly value = model('');
  readonly required = input(false, { transform: booleanAttribute });
  readonly problem = input<string | null | undefined>(null);
  readonly placeholder = input('');

  private readonly isOff = signal(false);
  protected readonly isDisabled = this.isOff.asReadonly();
  private readonly isUnread = signal(false);
  /** What the box is told to show: values from outside, not the one it was read from. */
  protected readonly shown = signal<DateTime | null>(null);
  protected readonly wrong = computed(() => (this.isUnread() ? unread : this.problem()) || null);
  private lastRead = '';
  private typed = '';
  private changed: (time: string) => void = () => undefined;
  private left: () => void = () => undefined;
  private checkAgain: () => void = () => undefined;

  constructor() {
    effect(() => {
      const time = this.value();
      if (time === this.lastRead) return;
      this.lastRead = time;
      this.typed = time;
      this.shown.set(time === '' ? null : dayOf('2000-01-01').plus({ minutes: readTypedMinute(time) ?? 0 }));
    });
  }

  /** Picked from the list. */
  protected take(at: DateTime | null): void {
    if (at === null || !at.isValid) return;
    this.typed = at.toFormat('HH:mm');
    this.put(this.typed);
  }

  protected read(text: string): void {
    this.typed = text;
    const minute = readTypedMinute(text);
    this.put(minute === null ? '' : sayMinute(minute));
  }

  private put(time: string): void {
    this.isUnread.set(false);
    if (time === this.value()) return;
    this.lastRead = time;
    this.value.set(time);
    this.changed(time);
  }

  protected leave(): void {
    this.isUnread.set(this.typed.trim() !== '' && readTypedMinute(this.typed) === null);
    // The picker empties a box that it cannot read: what was typed stays.
    if (this.isUnread()) this.box().nativeElement.value = this.typed;
    this.left();
    this.checkAgain();
  }

  writeValue(time: string | null): void {
    this.value.set(time ?? '');
    this.isUnread.set(false);
  }
  registerOnChange(changed: (time: string) => void): void {
    this.changed = changed;
  }
  registerOnTouched(left: () => void): void {
    this.left = left;
  }
  registerOnValidatorChange(checkAgain: () => void): void {
    this.checkAgain = checkAgain;
  }
  setDisabledState(isDisabled: boolean): void {
    this.isOff.set(isDisabled);
  }
  validate(): { unread: true } | null {
    return this.isUnread() ? { unread: true } : null;
  }
}
