import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  model,
} from '@angular/core';
import { plainTime } from '@kettle/core/time';
import { CurrentUser } from '../services/current-user';
import { DayField } from './day-field';
import { TimeField } from './time-field';

/**
 * A day with its time. Its value is `2026-12-03T09:30`, or an empty text.
 * @example <kettle-moment-field label="When" [(value)]="at" />
 */
@Component({
  selector: 'kettle-moment-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, TimeField],
  template: `
    <kettle-day-field
      [label]="label()"
      [ariaLabel]="ariaLabel() === '' ? '' : texts.day(ariaLabel())"
      [value]="day()"
      (valueChange)="takeDay($event)"
      [min]="min()?.slice(0, 10) ?? null"
      [max]="max()?.slice(0, 10) ?? null"
      [required]="required()"
      [problem]="problem()"
    />
    <kettle-time-field
      [label]="timeLabel()"
      [ariaLabel]="ariaLabel() === '' ? '' : texts.time(ariaLabel())"
      [value]="time()"
      (valueChange)="takeTime($event)"
      [required]="required()"
    />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 3fr 2fr;
      gap: var(--space-2);
      align-items: start;
    }
  `,
})
export class MomentField {
  protected readonly texts = {
    day: (ariaLabel: string | number) => $localize`${ariaLabel}:ariaLabel:, day`,
    time: (ariaLabel: string | number) => $localize`${ariaLabel}:ariaLabel:, time`,
  };

  readonly label = input('');
  readonly ariaLabel = input('');
  readonly value = model('');
  readonly min = input<string | null>(null);
  readonly max = input<string | null>(null);
  readonly required = input(false, { transform: booleanAttribute });
  readonly problem = input<string | null | undefined>(null);
  private readonly user = inject(CurrentUser);
  protected readonly timeLabel = computed(() => (this.label() === '' ? '' : $localize`Time`));
  protected readonly day = linkedSignal<string, string>({
    source: this.value,
    computation: (value, before) => (value === '' ? (before?.value ?? '') : value.slice(0, 10)),
  });
  protected readonly time = linkedSignal<string, string>({
    source: this.value,
    computation: (value, before) => (value === '' ? (before?.value ?? '') : value.slice(11, 16)),
  });

  /** A day alone gets the time it is now, and a time alone today: half a moment would be none, unsaid. */
  protected takeDay(day: string): void {
    this.day.set(day);
    if (day !== '' && this.time() === '') this.time.set(plainTime(this.user.minuteOf(this.user.now())));
    this.put();
  }

  protected takeTime(time: string): void {
    this.time.set(time);
    if (time !== '' && this.day() === '') this.day.set(this.user.today());
    this.put();
  }

  private put(): void {
    this.value.set(this.day() === '' || this.time() === '' ? '' : `${this.day()}T${this.time()}`);
  }
}
