import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Invoice } from '@kettle/contract';
import { sayToThePenny } from '@kettle/core/money';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

/** What was paid of an invoice: all that is left, unless another amount is typed. */
@Component({
  selector: 'kettle-payment-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts],
  template: `
    <kettle-dialog-form [title]="title" [form]="form" (save)="save()">
      <kettle-number-field
        label="Amount"
        i18n-label
        kind="money"
        [currency]="invoice.currency"
        [formControl]="form.controls.minor"
        startsHere
      />
      <kettle-day-field label="Day" i18n-label [formControl]="form.controls.on" />
      <kettle-text-field label="Words" i18n-label [formControl]="form.controls.words" [most]="200" />
    </kettle-dialog-form>
  `,
})
export class PaymentDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<PaymentDialog, Invoice>);
  private readonly undo = inject(Undo);
  protected readonly invoice = inject<Invoice>(MAT_DIALOG_DATA);
  protected readonly title = $localize`Payment of ${this.invoice.number}:number:`;
  protected readonly form = new RecordForm({
    minor: required<number>(Math.max(0, this.invoice.balanceMinor)),
    on: required(inject(CurrentUser).today()),
    words: field(''),
  });

  protected save(): void {
    const { id, currency } = this.invoice;
    const changeId = v7();
    this.form.send(
      this.form.getRawValue(),
      (body) => this.api.call('addPayment', { params: { id }, body }, changeId),
      (changed) => {
        const amount = sayToThePenny(this.form.getRawValue().minor, currency);
        this.undo.offer($localize`${amount}:amount: is paid.`, changeId);
        this.dialog.close(changed);
      },
    );
  }
}
