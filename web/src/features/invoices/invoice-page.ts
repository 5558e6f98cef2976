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
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { Invoice, InvoiceId } from '@kettle/contract';
import { invoiceStateLabel } from '@kettle/contract/invoices/labels';
import { sayToThePenny } from '@kettle/core/money';
import type { ComponentType } from '@angular/cdk/portal';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Sums } from '../../kit/sums';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** One invoice or credit note: what is still to be paid of it, its lines and payments. */
@Component({
  selector: 'kettle-invoice-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe, Failed, MatButtonModule, MatIcon, RouterLink, Sums, tableParts, Waiting],
  templateUrl: './invoice-page.html',
  styleUrl: './invoice-page.scss',
})
export class InvoicePage {
  protected readonly texts = {
    remove: (amount: string) => $localize`Remove the payment of ${amount}:amount:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  /** Its id, in the address. */
  readonly id = input.required<InvoiceId>();
  protected readonly read = reading((id: InvoiceId) => this.api.call('getInvoice', { params: { id } }));
  protected readonly it = this.read.value;
  protected readonly labels = invoiceStateLabel;
  protected readonly lines = computed(() => this.it()?.lines ?? []);
  protected readonly payments = computed(() => this.it()?.payments ?? []);

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.read.read(id));
    });
    inject(ChangeStream)
      .of('invoice')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected money(minor: number): string {
    return sayToThePenny(minor, this.it()?.currency ?? 'GBP');
  }

  protected async pay(invoice: Invoice): Promise<void> {
    const { PaymentDialog } = await import('./payment-dialog');
    this.open(PaymentDialog, invoice);
  }

  protected async credit(invoice: Invoice): Promise<void> {
    const { CreditDialog } = await import('./credit-dialog');
    this.open(CreditDialog, invoice);
  }

  private open(dialog: ComponentType<unknown>, data: Invoice): void {
    this.dialog
      .open<unknown, Invoice, Invoice>(dialog, { data, width: '420px' })
      .afterClosed()
      .subscribe((changed) => changed && this.read.again());
  }

  protected removePayment({ id }: Invoice, payment: Invoice['payments'][number]): void {
    const changeId = v7();
    this.api.call('removePayment', { params: { id, paymentId: payment.id } }, changeId).subscribe({
      next: (invoice) => {
        this.read.put(invoice);
        this.undo.offer(
          $localize`The payment of ${this.money(payment.minor)}:amount: is removed.`,
          changeId,
          () => this.read.again(),
        );
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
