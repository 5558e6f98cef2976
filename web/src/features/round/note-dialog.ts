import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, RoundRow } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { formParts, RecordForm, required } from '../../kit/form';
import { Undo } from '../../services/undo';

export interface NoteAsked {
  readonly row: RoundRow;
  /** Of whoever's Round it is. */
  readonly name: string;
}

/** A word to a colleague on a row of their Round: a note on whom it is about that names them, so that they hear of it. */
@Component({
  selector: 'kettle-note-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts],
  template: `
    <kettle-dialog-form [title]="title" act="Write" i18n-act [form]="form" (save)="save()">
      <p class="soft">{{ asked.row.contactName }} · {{ asked.row.purpose }}</p>
      <kettle-text-field
        label="Note"
        i18n-label
        [formControl]="form.controls.body"
        [rows]="3"
        [most]="4000"
        startsHere
      />
      <p i18n class="soft">It stands in the journal, and {{ asked.name }} is told of it.</p>
    </kettle-dialog-form>
  `,
})
export class NoteDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<NoteDialog>);
  private readonly undo = inject(Undo);
  protected readonly asked = inject<NoteAsked>(MAT_DIALOG_DATA);
  protected readonly title = $localize`Note to ${this.asked.name}:name:`;
  protected readonly form = new RecordForm({ body: required('') });

  protected save(): void {
    const { contactId, dealId } = this.asked.row;
    const changeId = v7();
    const text = `@${this.asked.name} ${this.form.controls.body.value.trim()}`;
    const body = { id: v7(), contactId, dealId: contactId === null ? dealId : null, body: text };
    this.form.send(
      body,
      (sent) => this.api.call('writeNote', { body: sent as CallOf<'writeNote'>['body'] }, changeId),
      () => {
        this.undo.offer($localize`Written; ${this.asked.name}:name: is told.`, changeId);
        this.dialog.close(true);
      },
    );
  }
}
