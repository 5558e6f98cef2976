import { ChangeDetectionStrategy, Component, effect, inject, untracked } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { addDays } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import type { InvoiceAsked } from './open-invoice-dialog';

/** One step: the day of an invoice and until when it is to be paid. */
@Component({
  selector: 'kettle-invoice-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts],
  template: `
    <kettle-dialog-form
      title="Issue an invoice"
      i18n-title
      act="Issue it"
      i18n-act
      [form]="form"
      (save)="save()"
    >
      <p class="soft">
        @if (asked.quoteId) {
          <ng-container i18n>Of what was accepted.</ng-container>
        } @else {
          <ng-container i18n>Of the deal’s product lines, else of its value.</ng-container>
        }
        &ngsp;
        <ng-container i18n>
          It has its number for good, and is never changed: a credit note takes it back.
        </ng-container>
      </p>
      <kettle-day-field
        label="Day of the invoice"
        i18n-label
        [formControl]="form.controls.issuedOn"
        startsHere
      />
      <kettle-day-field label="To be paid until" i18n-label [formControl]="form.controls.dueOn" warns />
    </kettle-dialog-form>
  `,
})
export class InvoiceDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<InvoiceDialog>);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly user = inject(CurrentUser);
  protected readonly asked = inject<InvoiceAsked>(MAT_DIALOG_DATA);
  private readonly settings = reading((_: null) => this.api.call('sellingSettings'));
  protected readonly form = new RecordForm({
    issuedOn: required(this.user.today()),
    dueOn: required(''),
  });

  constructor() {
    this.settings.read(null);
    effect(() => {
      const days = this.settings.value()?.paymentDays;
      untracked(() => {
        const { issuedOn, dueOn } = this.form.controls;
        if (days !== undefined && dueOn.value === '') dueOn.setValue(addDays(issuedOn.value, days));
      });
    });
  }

  protected save(): void {
    const { dealId, quoteId } = this.asked;
    this.form.send(
      { dealId, quoteId, ...this.form.getRawValue() },
      (body) => this.api.call('createInvoice', { body }),
      (invoice) => {
        this.dialog.close();
        this.notices.say($localize`Invoice ${invoice.number}:number: is issued.`);
        void this.router.navigate(['/invoices', invoice.id]);
      },
    );
  }
}
