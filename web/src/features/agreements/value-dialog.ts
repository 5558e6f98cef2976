import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { AgreementRow } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

/** More or less from a day of the term on. */
@Component({
  selector: 'kettle-value-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts],
  template: `
    <kettle-dialog-form [title]="title" act="Change the value" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        <kettle-number-field
          kind="money"
          [currency]="asked.currency"
          label="A whole term brings"
          i18n-label
          [formControl]="form.controls.valueMinor"
        />
        <kettle-day-field label="From" i18n-label [formControl]="form.controls.on" />
        <kettle-text-field
          class="wide"
          label="Why"
          i18n-label
          [rows]="2"
          [formControl]="form.controls.words"
          [most]="2000"
        />
      </div>
    </kettle-dialog-form>
  `,
})
export class ValueDialog {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<ValueDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly asked = inject<AgreementRow>(MAT_DIALOG_DATA);
  protected readonly title = $localize`${this.asked.name}:name:: more or less`;
  protected readonly form = new RecordForm({
    valueMinor: required<number>(this.asked.valueMinor),
    on: required(this.user.today()),
    words: field(''),
  });

  protected save(): void {
    const { id, version, name } = this.asked;
    const changeId = v7();
    this.form.send(
      this.form.getRawValue(),
      (body) => this.api.call('changeTermValue', { params: { id }, body: { version, ...body } }, changeId),
      (changed) => {
        this.undo.offer($localize`${name}:name: changed.`, changeId);
        this.dialog.close(changed);
      },
    );
  }
}
