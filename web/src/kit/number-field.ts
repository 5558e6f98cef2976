import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  model,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { numberFormat, readNumber, writeNumber } from '@kettle/core/locale';
import { majorOf, minorOf, placesOf, readMoney } from '@kettle/core/money';
import { CurrentUser } from '../services/current-user';
import { fieldParts } from './field';
import { TypedField, typedField } from './typed-field';

/** How a number is written and read; it is shown and refused in the unit that is meant. Money is of a currency. */
interface Kind {
  read(text: string, currency: string): number | null;
  write(value: number, currency: string): string;
  readonly suffix: string;
  example(currency: string): string;
  /** What one of the unit shown is of the value. */
  unit(currency: string): number;
}

const grouped = (most: number, least = 0) =>
  numberFormat({ minimumFractionDigits: least, maximumFractionDigits: most });
const read = (text: string) => readNumber(text)?.value ?? null;

const whole = (suffix: string): Kind => ({
  read: (text) => (readNumber(text)?.places === 0 ? read(text) : null),
  write: (value) => grouped(0).format(value),
  suffix,
  example: () => $localize`a whole number such as 12`,
  unit: () => 1,
});

const kinds = {
  whole: whole(''),
  decimal: {
    read,
    write: (value) => grouped(6).format(value),
    suffix: '',
    example: () => $localize`a number such as ${writeNumber(2.5)}`,
    unit: () => 1,
  },
  days: whole('days'),
  months: whole('months'),
  minutes: whole('min'),
  /** In minor units: 4,400 is 440000 of pounds, 4400 of yen. */
  money: {
    read: readMoney,
    write: (value, currency) => {
      const major = majorOf(value, currency);
      const places = placesOf(currency);
      return grouped(places, Number.isInteger(major) ? 0 : places).format(major);
    },
    suffix: '',
    example: (currency) =>
      $localize`an amount in ${currency}:currency: such as ${grouped(0).format(4400)}:grouped: or ${writeNumber(12.5)}:writeNumber:k`,
    unit: (currency) => minorOf(1, currency),
  },
  /** From 0 to 1: 30 is 0.3. */
  percent: {
    read: (text) => {
      const share = read(text.replace(/\s*%\s*$/, ''));
      return share === null || share < 0 ? null : Number((share / 100).toFixed(6));
    },
    write: (value) => grouped(2).format(value * 100),
    suffix: '%',
    example: () => $localize`a percentage such as 30`,
    unit: () => 0.01,
  },
} satisfies Record<string, Kind>;

/**
 * A number as people write it: 4,400 or 12.5k of money, 30 of per cent, 90 of days. Its value is null while there is none.
 * @example <kettle-number-field kind="money" label="Value" [formControl]="form.controls.amountMinor" />
 */
@Component({
  selector: 'kettle-number-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts],
  providers: [typedField(() => NumberField)],
  template: `
    <mat-form-field [class.small]="label() === ''">
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        matInput
        #box
        inputmode="decimal"
        autocomplete="off"
        [value]="text()"
        (input)="read(box.value)"
        (blur)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
        [kettleProblem]="wrong()"
      />
      @if (suffix() !== '') {
        <span matTextSuffix>{{ suffix() }}</span>
      }
      @if (wrong(); as words) {
        <mat-error>{{ words }}</mat-error>
      } @else if (hint() !== '') {
        <mat-hint>{{ hint() }}</mat-hint>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
    input {
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class NumberField extends TypedField<number | null> {
  protected readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  readonly value = model<number | null>(null);
  protected readonly empty = null;
  readonly kind = input<keyof typeof kinds>('whole');
  /** Of money; the organisation's own unless another one is named. What was typed is read anew when it becomes another one. */
  readonly currency = input<string>();
  /** In the unit shown. */
  readonly min = input<number | null>(null);
  /** In the unit shown. */
  readonly max = input<number | null>(null);
  protected readonly text = signal('');
  private readonly as = computed<Kind>(() => kinds[this.kind()]);
  private readonly user = inject(CurrentUser);
  private readonly in = computed(() => this.currency() ?? this.user.currency());
  protected readonly suffix = computed(() => this.as().suffix);

  constructor() {
    super();
    let was: string | null = null;
    effect(() => {
      const now = this.in();
      const text = untracked(this.text);
      if (was !== null && was !== now && text !== '') this.read(text);
      was = now;
    });
  }

  protected read(text: string): void {
    this.text.set(text);
    this.put(this.isUnreadable(text) ? null : this.as().read(text, this.in()));
  }

  protected unread(): string {
    const [min, max] = [this.min(), this.max()];
    const limits =
      min !== null && max !== null
        ? $localize`, from ${min}:min: to ${max}:max:`
        : min !== null
          ? $localize`, at least ${min}`
          : max !== null
            ? $localize`, at most ${max}`
            : '';
    return $localize`must be ${this.as().example(this.in())}:example:${limits}:limits:`;
  }

  protected show(value: number | null): void {
    this.text.set(value === null ? '' : this.as().write(value, this.in()));
  }

  protected isUnreadable(text: string): boolean {
    const { read, unit } = this.as();
    const value = read(text, this.in());
    if (value === null) return true;
    const shown = value / unit(this.in());
    return shown < (this.min() ?? -Infinity) || shown > (this.max() ?? Infinity);
  }
}
