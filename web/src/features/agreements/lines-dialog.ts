import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { AgreementDetail } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { formParts, RecordForm } from '../../kit/form';
import { Undo } from '../../services/undo';
import { DealWords, LineEditor, lineOf, type TypedLine, typedLineOf } from '../deals/index';

/** What was bought, line by line. */
@Component({
  selector: 'kettle-lines-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, LineEditor],
  template: `
    <kettle-dialog-form [title]="title" [form]="form" (save)="save()">
      <kettle-line-editor
        [(lines)]="lines"
        [currency]="asked.agreement.currency"
        [problem]="form.submission.problem()"
      />
      <p i18n class="soft">What the term brings stays as it is.</p>
    </kettle-dialog-form>
  `,
})
export class LinesDialog {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<LinesDialog>);
  protected readonly asked = inject<AgreementDetail>(MAT_DIALOG_DATA);
  protected readonly title = $localize`${this.asked.agreement.name}:name:: what was bought`;
  protected readonly form = new RecordForm({});
  protected readonly lines = signal<readonly TypedLine[]>(
    this.asked.lines.map((line) => typedLineOf({ ...line, id: '' }, this.asked.agreement.currency)),
  );

  constructor() {
    inject(DealWords).wake();
  }

  protected save(): void {
    const { id, version, name, currency } = this.asked.agreement;
    const changeId = v7();
    this.form.send(
      { version, lines: this.lines().map((line) => lineOf(line, currency)) },
      (body) => this.api.call('setAgreementLines', { params: { id }, body }, changeId),
      (changed) => {
        this.undo.offer($localize`${name}:name: changed.`, changeId);
        this.dialog.close(changed);
      },
    );
  }
}
