import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { Invoice } from '@kettle/contract';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

/** Takes all of an invoice back, by a note with a number of its own. */
@Component({
  selector: 'kettle-credit-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts],
  template: `
    <kettle-dialog-form [title]="title" act="Issue the credit note" i18n-act [form]="form" (save)="save()">
      <p i18n class="soft">
        It takes all of the invoice back and cannot be undone; another invoice can be issued then.
      </p>
      <kettle-text-field
        label="Why"
        i18n-label
        [formControl]="form.controls.reason"
        [most]="300"
        startsHere
      />
      <kettle-day-field label="Day of the credit note" i18n-label [formControl]="form.controls.issuedOn" />
    </kettle-dialog-form>
  `,
})
export class CreditDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CreditDialog, Invoice>);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  protected readonly invoice = inject<Invoice>(MAT_DIALOG_DATA);
  protected readonly title = $localize`Credit ${this.invoice.number}:number:`;
  protected readonly form = new RecordForm({
    reason: required(''),
    issuedOn: required(inject(CurrentUser).today()),
  });

  protected save(): void {
    const { id } = this.invoice;
    this.form.send(
      this.form.getRawValue(),
      (body) => this.api.call('creditInvoice', { params: { id }, body }),
      (note) => {
        this.dialog.close(note);
        this.notices.say($localize`Credit note ${note.number}:number: is issued.`);
        void this.router.navigate(['/invoices', note.id]);
      },
    );
  }
}
