import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { formParts, RecordForm, required } from '../../kit/form';

export interface DropAsked {
  readonly name: string;
  /** Of a task that comes again. */
  readonly repeats: string | null;
}

/** Asks why something planned is dropped; answers with the reason. */
@Component({
  selector: 'kettle-drop-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts],
  template: `
    <kettle-dialog-form [title]="texts.drop(asked.name)" act="Drop" i18n-act [form]="form" (save)="save()">
      <kettle-text-field
        label="Reason"
        i18n-label
        [formControl]="form.controls.reason"
        [most]="300"
        startsHere
      />
      @if (asked.repeats) {
        <p i18n class="soft">It does not come again.</p>
      }
    </kettle-dialog-form>
  `,
})
export class DropDialog {
  protected readonly texts = {
    drop: (name: string | number) => $localize`Drop: ${name}:name:`,
  };

  private readonly dialog = inject<MatDialogRef<DropDialog, string>>(MatDialogRef);
  protected readonly asked = inject<DropAsked>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({ reason: required('') });

  protected save(): void {
    if (this.form.isFilledIn()) this.dialog.close(this.form.controls.reason.value.trim());
  }
}
