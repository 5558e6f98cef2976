import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf } from '@kettle/contract';
import { Api } from '../../api/api';
import { formParts, RecordForm, required } from '../../kit/form';
import { PersonPicker } from '../fields/index';

export interface FilePicked {
  readonly ids: readonly string[];
  /** How many, `3 mails`. */
  readonly words: string;
  readonly changeId: string;
}

/** Files the picked mails with one person. */
@Component({
  selector: 'kettle-file-picked-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, PersonPicker],
  template: `
    <kettle-dialog-form [title]="title" act="File" i18n-act [form]="form" (save)="file()">
      <kettle-person-picker label="With" i18n-label [formControl]="form.controls.contactId" />
    </kettle-dialog-form>
  `,
})
export class FilePickedDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<FilePickedDialog>);
  private readonly asked = inject<FilePicked>(MAT_DIALOG_DATA);
  protected readonly title = $localize`File ${this.asked.words}:words:`;
  protected readonly form = new RecordForm({ contactId: required<string>(null) });

  protected file(): void {
    const { ids, changeId } = this.asked;
    this.form.send(
      { to: 'filed' as const, ids, contactId: this.form.controls.contactId.value },
      (body) => this.api.call('moveMail', { body: body as CallOf<'moveMail'>['body'] }, changeId),
      (moved) => this.dialog.close(moved),
    );
  }
}
