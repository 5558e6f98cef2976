import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { QuoteTotals } from '@kettle/contract';
import { sayToThePenny } from '@kettle/core/money';

/** What lines come to: net, tax by rate, total. */
@Component({
  selector: 'kettle-sums',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <dl class="sums">
      <div>
        <dt i18n>net</dt>
        <dd>{{ money(totals().netMinor, currency()) }}</dd>
      </div>
      @for (tax of totals().taxes; track tax.percent) {
        <div>
          <dt i18n>tax {{ tax.percent }} %</dt>
          <dd>{{ money(tax.taxMinor, currency()) }}</dd>
        </div>
      }
      <div>
        <dt i18n>total</dt>
        <dd>
          <b>{{ money(totals().totalMinor, currency()) }}</b>
        </dd>
      </div>
    </dl>
  `,
  styles: `
    :host {
      justify-self: end;
    }
    dl {
      display: grid;
      gap: var(--space-1);
      margin: 0;
    }
    div {
      display: grid;
      grid-template-columns: 12ch 14ch;
      gap: var(--space-3);
    }
    dt {
      color: var(--text-soft);
      font-size: var(--text-small);
    }
    dd {
      margin: 0;
      text-align: end;
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class Sums {
  readonly totals = input.required<QuoteTotals>();
  readonly currency = input.required<string>();
  protected readonly money = sayToThePenny;
}
