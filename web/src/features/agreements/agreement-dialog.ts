import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { AgreementRow, CallOf, Contact, Deal } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required, sameWords } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { PersonPicker } from '../fields/index';

/** A new one for a customer, or one that says something wrong. */
export type AgreementAsked =
  | { readonly contact: Contact; readonly deal: Deal | null; readonly agreement?: undefined }
  | { readonly agreement: AgreementRow };

const percentOf = (hundredths: number) => hundredths / 10_000;

/** What a customer has bought: from when, for how long, worth how much, with how much notice, and what becomes of it at the end of a term. */
@Component({
  selector: 'kettle-agreement-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts, MatCheckboxModule, PersonPicker],
  template: `
    <kettle-dialog-form [title]="title" [act]="act" [form]="form" (save)="save()" [inRecord]="inRecord">
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
          @if (isNew && user.currencies().length > 1) {
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
        <kettle-choice-field
          label="The next term costs"
          i18n-label
          [formControl]="form.controls.upliftKind"
          [options]="uplifts"
        />
        @if (upliftKind() === 'percent') {
          <kettle-number-field
            kind="percent"
            label="More by"
            i18n-label
            [formControl]="form.controls.upliftShare"
          />
        } @else if (upliftKind() === 'amount') {
          <kettle-number-field
            kind="money"
            [currency]="form.controls.currency.value"
            label="More by"
            i18n-label
            [formControl]="form.controls.upliftMinor"
          />
        }
        <kettle-choice-field
          label="Check-in within the term"
          i18n-label
          [formControl]="form.controls.checkInMonths"
          [options]="checkIns"
        />
        <kettle-person-picker label="Who signs" i18n-label [formControl]="form.controls.signerId" />
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
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<AgreementDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<AgreementAsked>(MAT_DIALOG_DATA);
  protected readonly isNew = this.asked.agreement === undefined;
  protected readonly title = this.titleOf();
  protected readonly act = this.isNew ? $localize`Create agreement` : $localize`Save`;
  protected readonly inRecord = { upliftBy: $localize`More by` };
  protected readonly currencies = sameWords(this.user.currencies());
  protected readonly uplifts = [
    { value: 'none' as const, words: $localize`as much as this one` },
    { value: 'percent' as const, words: $localize`more, in per cent` },
    { value: 'amount' as const, words: $localize`more, by an amount` },
  ];
  protected readonly checkIns = [
    { value: null as number | null, words: $localize`none` },
    ...[3, 6, 12].map((months) => ({
      value: months as number | null,
      words: $localize`every ${months}:months: months`,
    })),
  ];
  protected readonly form = this.formOf();
  private readonly kind = toSignal(this.form.controls.upliftKind.valueChanges, {
    initialValue: this.form.controls.upliftKind.value,
  });
  protected readonly upliftKind = computed(() => this.kind());

  private titleOf(): string {
    const { asked } = this;
    if (asked.agreement !== undefined) return asked.agreement.name;
    return $localize`Agreement with ${asked.contact.companyName ?? asked.contact.name}:companyName:`;
  }

  private formOf() {
    const { agreement } = this.asked;
    const deal = this.asked.agreement === undefined ? this.asked.deal : null;
    const by = agreement?.upliftBy ?? 0;
    return new RecordForm({
      name: required(agreement?.name ?? deal?.name ?? ''),
      startsOn: required(agreement?.startsOn ?? this.user.today()),
      termMonths: required<number>(agreement?.termMonths ?? 12),
      valueMinor: required<number>(agreement?.valueMinor ?? deal?.amountMinor ?? null),
      currency: field(agreement?.currency ?? deal?.currency ?? this.user.currency()),
      noticeDays: required<number>(agreement?.noticeDays ?? 60),
      leadDays: required<number>(agreement?.leadDays ?? 30),
      renewsItself: field(agreement?.renewsItself ?? true),
      upliftKind: field(agreement?.upliftKind ?? 'none'),
      upliftShare: field<number | null>(agreement?.upliftKind === 'percent' ? percentOf(by) : null),
      upliftMinor: field<number | null>(agreement?.upliftKind === 'amount' ? by : null),
      checkInMonths: field<number | null>(agreement?.checkInMonths ?? null),
      signerId: field<string>(agreement?.signerId ?? ''),
    });
  }

  protected save(): void {
    const changeId = v7();
    this.form.send(
      this.body(),
      (body) => this.call(body, changeId),
      (made) => {
        if (!this.isNew) this.undo.offer($localize`${made.name}:name: changed.`, changeId);
        this.dialog.close(made);
      },
    );
  }

  private call(body: ReturnType<AgreementDialog['body']>, changeId: string): Observable<AgreementRow> {
    const { asked } = this;
    if (asked.agreement === undefined)
      return this.api.call(
        'createAgreement',
        { body: { ...body, contactId: asked.contact.id, dealId: asked.deal?.id ?? null } as never },
        changeId,
      );
    const { id, version } = asked.agreement;
    const { currency: _, ...changed } = body;
    return this.api.call(
      'changeAgreement',
      { params: { id }, body: { version, ...changed } as CallOf<'changeAgreement'>['body'] & object },
      changeId,
    );
  }

  private body() {
    const { upliftShare, upliftMinor, signerId, ...said } = this.form.getRawValue();
    const by = { none: 0, percent: Math.round((upliftShare ?? 0) * 10_000), amount: upliftMinor ?? 0 };
    return {
      ...said,
      upliftBy: by[said.upliftKind],
      signerId: signerId === '' ? null : (signerId as AgreementRow['signerId']),
    };
  }
}
