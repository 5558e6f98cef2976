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
import { RouterLink } from '@angular/router';
import type { InvoiceSummary, ListInvoices } from '@kettle/contract';
import { invoiceStateLabel } from '@kettle/contract/invoices/labels';
import { sayToThePenny } from '@kettle/core/money';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { SelectedRecord } from '../../services/selected-record';
import { DealTabs } from '../deals/index';

const shows: readonly ListInvoices['show'][] = ['open', 'overdue', 'all'];

/** Invoices and credit notes, and what is still to be paid. */
@Component({
  selector: 'kettle-invoices-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, DayPipe, DealTabs, Empty, Failed, MatButtonModule, RouterLink, tableParts, Waiting],
  template: `
    <div class="page">
      <div class="page-head">
        <kettle-deal-tabs at="invoices" />
        <span class="grow"></span>
        <kettle-choice-field
          ariaLabel="Which invoices"
          i18n-ariaLabel
          [options]="showOptions"
          [value]="shown()"
          (valueChange)="selected.setQuery({ show: $event === 'open' ? null : $event })"
        />
        <kettle-choice-field
          ariaLabel="Whose deals"
          i18n-ariaLabel
          [options]="owners"
          [value]="owner() === 'all' ? 'all' : 'mine'"
          (valueChange)="selected.setQuery({ owner: $event === 'mine' ? null : $event })"
        />
      </div>
      @if (read.value(); as it) {
        <p class="soft" role="status">
          @for (each of balances(); track each.currency) {
            <b>{{ money(each.minor, each.currency) }}</b>
            &ngsp;
            <ng-container i18n>to be paid</ng-container>
            &ngsp;
          }
          @if (it.hidden > 0) {
            <ng-container i18n>{{ it.hidden }} not shown</ng-container>
            <button i18n matButton type="button" (click)="selected.setQuery({ show: 'all', owner: 'all' })">
              show all
            </button>
          }
        </p>
        @if (it.invoices.length === 0) {
          <kettle-empty title="No invoice here" i18n-title>
            <ng-container i18n>
              A won deal is invoiced on its page, an accepted quote on its own.
            </ng-container>
          </kettle-empty>
        } @else {
          <kettle-table [rows]="it.invoices" label="Invoices" i18n-label [by]="key">
            <ng-template [kettleColumn]="it.invoices" head="number" i18n-head let-each>
              <a [routerLink]="['/invoices', each.id]">{{ each.number }}</a>
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="customer" i18n-head let-each>
              {{ each.customer }}
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="deal" i18n-head let-each>
              <a [routerLink]="['/deals', each.dealId]">{{ each.dealName }}</a>
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="state" i18n-head let-each>
              <span [class.now]="each.state === 'overdue'">{{ stateOf(each) }}</span>
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="due" i18n-head let-each>
              {{ each.dueOn | day: 'date' }}
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="total" i18n-head isNumber let-each>
              {{ money(each.totalMinor, each.currency) }}
            </ng-template>
            <ng-template [kettleColumn]="it.invoices" head="to be paid" i18n-head isNumber let-each>
              {{ money(each.balanceMinor, each.currency) }}
            </ng-template>
          </kettle-table>
        }
      } @else if (read.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
    </div>
  `,
})
export class InvoicesPage {
  private readonly api = inject(Api);
  protected readonly selected = inject(SelectedRecord);
  /** The view, kept in the address. */
  readonly show = input<string>();
  readonly owner = input<string>();
  protected readonly showOptions: Option<ListInvoices['show']>[] = [
    { value: 'open', words: $localize`to be paid` },
    { value: 'overdue', words: $localize`overdue` },
    { value: 'all', words: $localize`all` },
  ];
  protected readonly owners: Option<ListInvoices['owner']>[] = [
    { value: 'mine', words: $localize`mine` },
    { value: 'all', words: $localize`everybody’s` },
  ];
  protected readonly shown = computed(() => shows.find((each) => each === this.show()) ?? 'open');
  protected readonly read = reading((query: Omit<ListInvoices, 'dealId'>) =>
    this.api.call('listInvoices', { query }),
  );
  /** What is to be paid, by currency: never added up across them. */
  protected readonly balances = computed(() => {
    const sums = new Map<string, number>();
    for (const { currency, balanceMinor } of this.read.value()?.invoices ?? [])
      if (balanceMinor > 0) sums.set(currency, (sums.get(currency) ?? 0) + balanceMinor);
    return [...sums].map(([currency, minor]) => ({ currency, minor }));
  });
  protected readonly key = ({ id }: InvoiceSummary) => id;
  protected readonly money = sayToThePenny;

  constructor() {
    effect(() => {
      const query = { show: this.shown(), owner: this.owner() === 'all' ? 'all' : 'mine' } as const;
      untracked(() => this.read.read(query));
    });
    inject(ChangeStream)
      .of('invoice')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected stateOf({ kind, state }: InvoiceSummary): string {
    return kind === 'credit' ? $localize`credit note` : invoiceStateLabel[state];
  }
}
