import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Contact, Deal } from '@kettle/contract';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required, sameWords } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';

/** Gives a customer an agreement: what, from when, for how long, worth how much, with how much notice. */
@Component({
  selector: 'kettle-agreement-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts, MatCheckboxModule],
  template: `
    <kettle-dialog-form
      [title]="texts.agreementWith(asked.contact.companyName ?? asked.contact.name)"
      act="Create agreement"
      i18n-act
      [form]="form"
      (save)="save()"
    >
      <div class="form-grid">
        <kettle-text-field
          class="wide"
          label="What they have bought"
          i18n-label
          [formControl]="form.controls.name"
          [most]="160"
        />
        <kettle-day-field label="Starts" i18n-label [formControl]="form.controls.startsOn" />
        <kettle-number-field
          kind="months"
          label="Term"
          i18n-label
          [formControl]="form.controls.termMonths"
          [min]="1"
          [max]="120"
        />
        <div class="with-unit">
          <kettle-number-field
            kind="money"
            [currency]="form.controls.currency.value"
            label="Value of the term"
            i18n-label
            [formControl]="form.controls.valueMinor"
          />
          @if (user.currencies().length > 1) {
            <kettle-choice-field
              class="unit"
              label="Currency"
              i18n-label
              [formControl]="form.controls.currency"
              [options]="currencies"
            />
          }
        </div>
        <kettle-number-field
          kind="days"
          label="Notice before the end"
          i18n-label
          [formControl]="form.controls.noticeDays"
          [min]="0"
          [max]="730"
        />
        <kettle-number-field
          kind="days"
          label="Start talking before the notice"
          i18n-label
          [formControl]="form.controls.leadDays"
          [min]="0"
          [max]="730"
        />
        <mat-checkbox i18n [formControl]="form.controls.renewsItself">renews by itself</mat-checkbox>
      </div>
    </kettle-dialog-form>
  `,
  styles: `
    mat-checkbox {
      align-self: end;
      min-block-size: 32px;
    }
  `,
})
export class AgreementDialog {
  protected readonly texts = {
    agreementWith: (companyName: string | number) => $localize`Agreement with ${companyName}:companyName:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AgreementDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<{ contact: Contact; deal: Deal | null }>(MAT_DIALOG_DATA);
  protected readonly currencies = sameWords(this.user.currencies());
  protected readonly form = new RecordForm({
    name: required(this.asked.deal?.name ?? ''),
    startsOn: required(this.user.today()),
    termMonths: required<number>(12),
    valueMinor: required<number>(this.asked.deal?.amountMinor ?? null),
    currency: field(this.asked.deal?.currency ?? this.user.currency()),
    noticeDays: required<number>(60),
    leadDays: required<number>(30),
    renewsItself: field(true),
  });

  protected save(): void {
    const { contact, deal } = this.asked;
    this.form.send(
      this.form.getRawValue(),
      (body) =>
        this.api.call('createAgreement', {
          body: { ...body, contactId: contact.id, dealId: deal?.id ?? null },
        }),
      () => this.dialog.close(),
    );
  }
}
