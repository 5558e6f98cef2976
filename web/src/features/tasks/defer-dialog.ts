import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { DayField } from '../../kit/day-field';
import { DayProposals } from '../../kit/day-proposals';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';

export interface DeferAsked {
  readonly name: string;
  /** A day that has room for it. */
  readonly roomOn: string | null;
  /** Of a task that comes again. */
  readonly repeats?: string | null;
}

/** Asks for the day that something is deferred to; answers with it. */
@Component({
  selector: 'kettle-defer-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, DayProposals, formParts],
  template: `
    <kettle-dialog-form [title]="texts.defer(asked.name)" act="Defer" i18n-act [form]="form" (save)="save()">
      <kettle-day-proposals [first]="asked.roomOn" (picked)="dialog.close($event)" />
      <kettle-day-field
        label="Another day"
        i18n-label
        [formControl]="form.controls.day"
        [min]="user.today()"
        warns
        startsHere
      />
    </kettle-dialog-form>
  `,
})
export class DeferDialog {
  protected readonly texts = {
    defer: (name: string | number) => $localize`Defer: ${name}:name:`,
  };

  protected readonly dialog = inject<MatDialogRef<DeferDialog, string>>(MatDialogRef);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<DeferAsked>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({ day: required(this.asked.roomOn ?? this.user.nextWorkday()) });

  protected save(): void {
    if (this.form.isFilledIn()) this.dialog.close(this.form.controls.day.value);
  }
}
