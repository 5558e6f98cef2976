import { ChangeDetectionStrategy, Component, ElementRef, model, signal, viewChild } from '@angular/core';
import { MatTimepickerModule } from '@angular/material/timepicker';
import { readTypedMinute, plainTime } from '@kettle/core/time';
import type { DateTime } from 'luxon';
import { dayOf, provideDays } from './day-adapter';
import { fieldParts } from './field';
import { TypedField, typedField } from './typed-field';

/**
 * A time of day, typed as people write it or picked from the quarters of an hour. Its value is `09:30`, or an empty text.
 * @example <kettle-time-field label="At" [(value)]="at" />
 */
@Component({
  selector: 'kettle-time-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatTimepickerModule],
  providers: [provideDays(), typedField(() => TimeField)],
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
        (blur)="leaveTime()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
        [kettleProblem]="wrong()"
      />
      <mat-timepicker-toggle
        matIconSuffix
        [for]="picker"
        tabindex="-1"
        aria-label="Open list of times"
        i18n-aria-label
      />
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
export class TimeField extends TypedField<string> {
  protected readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  protected readonly empty = '';

  /** `09:30`, or an empty text. */
  readonly value = model('');

  protected readonly shown = signal<DateTime | null>(null);
  private typed = '';

  /** Picked from the list. */
  protected take(at: DateTime | null): void {
    if (at === null || !at.isValid) return;
    this.typed = at.toFormat('HH:mm');
    this.put(this.typed);
  }

  protected read(text: string): void {
    this.typed = text;
    const minute = readTypedMinute(text);
    this.put(minute === null ? '' : plainTime(minute));
  }

  /** The picker empties a box that it cannot read: what was typed stays. */
  protected leaveTime(): void {
    const box = this.box();
    if (box && this.isUnreadable(this.typed)) box.nativeElement.value = this.typed;
    this.leave();
  }

  protected unread(): string {
    return $localize`Write a time: 9, 9:30, 14.15 or 2pm.`;
  }

  protected show(time: string): void {
    this.typed = time;
    this.shown.set(time === '' ? null : dayOf('2000-01-01').plus({ minutes: readTypedMinute(time) ?? 0 }));
  }

  protected isUnreadable(text: string): boolean {
    return readTypedMinute(text) === null;
  }
}
