import { tableParts } from '../../kit/table';
import { readNumber, writeNumber } from '@kettle/core/locale';
import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  model,
} from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { Deal, Product } from '@kettle/contract';
import { lineMinor, lineTotals } from '@kettle/core/deals';
import { majorOf, readMoney } from '@kettle/core/money';
import type { ApiProblem } from '../../api/api';
import { formParts } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';
import { MoneyPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from './deal-words';
import { spoken } from '../../kit/value-words';

/** A product line as it is typed: texts stay texts until the deal is saved. */
export interface TypedLine {
  readonly productId: Product['id'] | null;
  readonly name: string;
  readonly quantity: string;
  readonly price: string;
  readonly discount: string;
  readonly billing: 'once' | 'yearly';
  /** Of a quote: tax in per cent, and whether the customer chooses it. */
  readonly tax?: string;
  readonly isOptional?: boolean;
}

export const typedLineOf = (line: Deal['lines'][number], currency: string): TypedLine => ({
  productId: line.productId,
  name: line.name,
  quantity: writeNumber(line.quantity),
  price: writeNumber(majorOf(line.priceMinor, currency)),
  discount: line.discountPercent === 0 ? '' : writeNumber(line.discountPercent),
  billing: line.billing,
});

/** What was typed as the server takes it; what is no number is sent as one that is refused at its field. */
export const lineOf = (line: TypedLine, currency: string) => ({
  productId: line.productId,
  name: line.name,
  quantity: readNumber(line.quantity)?.value ?? 0,
  priceMinor: readMoney(line.price, currency) ?? -1,
  discountPercent: line.discount.trim() === '' ? 0 : (readNumber(line.discount)?.value ?? Number.NaN),
  billing: line.billing,
});

const wordOf: Readonly<Record<string, string>> = {
  name: $localize`what it is`,
  priceMinor: 'price',
  discountPercent: 'discount',
  taxPercent: $localize`tax`,
};

/** Product lines of a deal, with their sums; their total is the deal's value. */
@Component({
  selector: 'kettle-line-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, formParts, ProposedField, MatButtonModule, MatCheckboxModule, MatIcon, MoneyPipe],
  template: `
    @if (lines().length > 0) {
      <kettle-table [rows]="lines()" label="Product lines" i18n-label [by]="placeOf" isTight>
        <ng-template [kettleColumn]="lines()" head="what" i18n-head size="40%" let-line let-at="at">
          <kettle-proposed-field
            [ariaLabel]="texts.lineWhat(at + 1)"
            [value]="line.name"
            (valueChange)="name(at, $event)"
            [most]="160"
            [proposals]="productNames()"
          />
        </ng-template>
        @for (part of numbers(); track part.key) {
          <ng-template
            [kettleColumn]="lines()"
            [head]="part.head"
            [size]="part.size"
            isNumber
            let-line
            let-at="at"
          >
            <kettle-text-field
              class="num"
              [ariaLabel]="texts.line(at + 1, part.words)"
              [value]="line[part.key] ?? ''"
              (valueChange)="change(at, part.key, $event)"
            />
          </ng-template>
        }
        @if (isOffered()) {
          <ng-template [kettleColumn]="lines()" head="optional" i18n-head size="72px" let-line let-at="at">
            <mat-checkbox
              [aria-label]="texts.line(at + 1, texts.optional)"
              [checked]="line.isOptional === true"
              (change)="choose(at, $event.checked)"
            />
          </ng-template>
        }
        <ng-template [kettleColumn]="lines()" head="paid" i18n-head size="88px" let-line let-at="at">
          <kettle-choice-field
            [ariaLabel]="texts.linePaid(at + 1)"
            [value]="line.billing"
            (valueChange)="change(at, 'billing', $event ?? 'once')"
            [options]="billings"
          />
        </ng-template>
        <ng-template [kettleColumn]="lines()" head="sum" i18n-head size="88px" isNumber let-at="at">
          {{ sums()[at] ?? 0 | money: currency() }}
        </ng-template>
        <ng-template [kettleColumn]="lines()" head="remove" i18n-head isSilent let-at="at">
          <button
            matIconButton
            type="button"
            (click)="remove(at)"
            [attr.aria-label]="texts.removeLine(at + 1)"
          >
            <mat-icon svgIcon="close" />
          </button>
        </ng-template>
        <ng-template [kettleBelow]="lines()" let-at="at">
          @if (wrongIn(at); as wrong) {
            <span class="wrong">{{ wrong }}</span>
          }
        </ng-template>
      </kettle-table>
    }
    <p class="spread">
      <button i18n matButton type="button" (click)="add()">Add a product line</button>
      @if (lines().length > 0 && !isOffered()) {
        <span i18n class="soft">
          once {{ totals().onceMinor | money: currency() }} · yearly
          {{ totals().yearlyMinor | money: currency() }} ·
          <b class="total">value {{ totals().totalMinor | money: currency() }}</b>
        </span>
      }
    </p>
  `,
  styles: `
    .num ::ng-deep input {
      text-align: end;
    }
    kettle-proposed-field {
      inline-size: 100%;
    }
    .total {
      color: var(--text);
    }
  `,
})
export class LineEditor {
  protected readonly texts = {
    lineWhat: (at: string | number) => $localize`Line ${at}:at:: what`,
    line: (at: string | number, words: string | number) => $localize`Line ${at}:at:: ${words}:words:`,
    optional: $localize`optional`,
    linePaid: (at: string | number) => $localize`Line ${at}:at:: paid`,
    removeLine: (at: string | number) => $localize`Remove line ${at}:at:`,
  };

  private readonly words = inject(DealWords);
  private readonly user = inject(CurrentUser);
  readonly lines = model.required<readonly TypedLine[]>();
  /** What the deal is in. */
  readonly currency = input.required<string>();
  readonly problem = input<ApiProblem | null>(null);
  /** Where the lines stand in what is sent: what is wrong with one is named from there. */
  readonly under = input('lines');
  /** They are lines of a quote: with their tax, and some of them optional. */
  readonly isOffered = input(false, { transform: booleanAttribute });
  /** The tax a new line of a quote has, as it is typed. */
  readonly usualTax = input('');
  protected readonly numbers = computed(() => [
    { key: 'quantity', words: $localize`quantity`, head: $localize`quantity`, size: '68px' } as const,
    { key: 'price', words: $localize`price`, head: $localize`price`, size: '88px' } as const,
    { key: 'discount', words: $localize`per cent off`, head: $localize`less %`, size: '68px' } as const,
    ...(this.isOffered()
      ? [{ key: 'tax', words: $localize`tax`, head: $localize`tax %`, size: '68px' } as const]
      : []),
  ]);
  /** Lines have no id before they are saved: each is its place. */
  protected readonly placeOf = (_: TypedLine, at: number): number => at;
  protected readonly offered = computed(() => this.words.products().filter(({ isRetired }) => !isRetired));
  protected readonly productNames = computed(() => this.offered().map(({ name }) => name));
  protected readonly billings = spoken(['once', 'yearly']);
  private readonly read = computed(() =>
    this.lines().map((line) => {
      const read = lineOf(line, this.currency());
      const discountPercent = Number.isFinite(read.discountPercent) ? read.discountPercent : 0;
      return { ...read, discountPercent, priceMinor: Math.max(0, read.priceMinor) };
    }),
  );
  protected readonly sums = computed(() => this.read().map(lineMinor));
  protected readonly totals = computed(() => lineTotals(this.read()));

  protected wrongIn(at: number): string | null {
    const start = `${this.under()}.${at}.`;
    const found = this.problem()?.fields.find(({ path }) => path.startsWith(start));
    if (!found) return null;
    const part = found.path.slice(start.length);
    if (part === 'priceMinor' && readMoney(this.lines()[at]?.price ?? '', this.currency()) === null)
      return $localize`price must be an amount in ${this.currency()}:currency: such as 385`;
    return `${wordOf[part] ?? part} ${found.message}`;
  }

  protected add(): void {
    this.lines.update((lines) => [
      ...lines,
      {
        ...{ productId: null, name: '', quantity: '1', price: '', discount: '', billing: 'once' },
        ...(this.isOffered() && { tax: this.usualTax(), isOptional: false }),
      },
    ]);
  }

  protected remove(at: number): void {
    this.lines.update((lines) => lines.filter((_, index) => index !== at));
  }

  protected choose(at: number, isOptional: boolean): void {
    this.lines.update((lines) => lines.map((line, index) => (index === at ? { ...line, isOptional } : line)));
  }

  protected change(
    at: number,
    key: 'quantity' | 'price' | 'discount' | 'tax' | 'billing',
    value: string,
  ): void {
    this.lines.update((lines) =>
      lines.map((line, index) => (index === at ? { ...line, [key]: value } : line)),
    );
  }

  /** A product that is named so brings its price and how it is paid; what was typed before stays. */
  protected name(at: number, name: string): void {
    const product = this.offered().find((each) => each.name.toLowerCase() === name.trim().toLowerCase());
    this.lines.update((lines) =>
      lines.map((line, index) => {
        if (index !== at) return line;
        if (product === undefined) return { ...line, name, productId: null };
        // A product's price is in the organisation's currency: in another one it is not known.
        const own = this.user.currency();
        const known = this.currency() === own ? writeNumber(majorOf(product.priceMinor, own)) : '';
        const price = line.price || known;
        return { ...line, name, productId: product.id, price, billing: product.billing };
      }),
    );
  }
}
