import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { numberFormat, readNumber, writeNumber } from '@kettle/core/locale';
import { readMoney } from '@kettle/core/money';
import { fieldParts } from './field';
import { TypedField, typedField } from './typed-field';

/** How a number is written and read; it is shown and refused in the unit that is meant. */
interface Kind {
  read(text: string): number | null;
  write(value: number): string;
  readonly suffix: string;
  example(): string;
  /** What one of the unit shown is of the value. */
  readonly unit: number;
}

const grouped = (most: number, least = 0) =>
  numberFormat({ minimumFractionDigits: least, maximumFractionDigits: most });
const read = (text: string) => readNumber(text)?.value ?? null;

const whole = (suffix: string): Kind => ({
  read: (text) => (readNumber(text)?.places === 0 ? read(text) : null),
  write: (value) => grouped(0).format(value),
  suffix,
  example: () => $localize`a whole number such as 12`,
  unit: 1,
});

const kinds = {
  whole: whole(''),
  decimal: {
    read,
    write: (value) => grouped(6).format(value),
    suffix: '',
    example: () => $localize`a number such as ${writeNumber(2.5)}`,
    unit: 1,
  },
  days: whole('days'),
  months: whole('months'),
  minutes: whole('min'),
  /** In minor units: 4,400 is 440000. */
  money: {
    read: readMoney,
    write: (value) => grouped(2, value % 100 === 0 ? 0 : 2).format(value / 100),
    suffix: '',
    example: () =>
      $localize`an amount such as ${grouped(0).format(4400)}:grouped: or ${writeNumber(12.5)}:writeNumber:k`,
    unit: 100,
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
    unit: 0.01,
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
  /** In the unit shown. */
  readonly min = input<number | null>(null);
  /** In the unit shown. */
  readonly max = input<number | null>(null);
  protected readonly text = signal('');
  private readonly as = computed<Kind>(() => kinds[this.kind()]);
  protected readonly suffix = computed(() => this.as().suffix);

  protected read(text: string): void {
    this.text.set(text);
    this.put(this.isUnreadable(text) ? null : this.as().read(text));
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
    return $localize`must be ${this.as().example()}:example:${limits}:limits:`;
  }

  protected show(value: number | null): void {
    this.text.set(value === null ? '' : this.as().write(value));
  }

  protected isUnreadable(text: string): boolean {
    const { read, unit } = this.as();
    const value = read(text);
    if (value === null) return true;
    const shown = value / unit;
    return shown < (this.min() ?? -Infinity) || shown > (this.max() ?? Infinity);
  }
}
