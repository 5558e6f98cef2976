import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { Deal, DealId, InvoiceSummary } from '@kettle/contract';
import { invoiceStateLabel } from '@kettle/contract/invoices/labels';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MoneyPipe } from '../../kit/say.pipes';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { openInvoiceDialog } from './open-invoice-dialog';

/** The invoices of a deal; a won one is invoiced in one step. */
@Component({
  selector: 'kettle-deal-invoices',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MoneyPipe, RouterLink],
  template: `
    @if (invoices().length > 0 || mayIssue()) {
      <section aria-label="Invoices" i18n-aria-label>
        <h3 i18n>Invoices</h3>
        @if (invoices().length > 0) {
          <ul>
            @for (each of invoices(); track each.id) {
              <li>
                <a [routerLink]="['/invoices', each.id]">{{ each.number }}</a>
                <span [class.now]="each.state === 'overdue'">{{ stateOf(each) }}</span>
                <span class="sum">{{ each.totalMinor | money: each.currency }}</span>
              </li>
            }
          </ul>
        }
        @if (mayIssue()) {
          <button i18n matButton type="button" (click)="issue()">Invoice …</button>
        }
      </section>
    }
  `,
  styles: `
    section {
      display: grid;
      justify-items: start;
      gap: var(--space-1);
    }
    ul {
      inline-size: 100%;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    .sum {
      margin-inline-start: auto;
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class DealInvoices {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly user = inject(CurrentUser);
  readonly deal = input.required<Deal>();
  private readonly read = reading((dealId: DealId) => this.api.call('listInvoices', { query: { dealId } }));
  protected readonly invoices = computed(() => this.read.value()?.invoices ?? []);
  protected readonly mayIssue = computed(
    () => this.deal().status === 'won' && this.user.mayChange(this.deal().ownerId),
  );

  constructor() {
    const id = computed(() => this.deal().id);
    effect(() => {
      const dealId = id();
      untracked(() => this.read.read(dealId));
    });
    inject(ChangeStream)
      .of('invoice')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected stateOf({ kind, state }: InvoiceSummary): string {
    return kind === 'credit' ? $localize`credit note` : invoiceStateLabel[state];
  }

  protected issue(): Promise<void> {
    return openInvoiceDialog(this.dialog, { dealId: this.deal().id, quoteId: null });
  }
}
