import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Quote } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { Undo } from '../../services/undo';

export interface DecideAsked {
  readonly quote: Quote;
  readonly as: 'accepted' | 'declined';
}

/** What the customer said otherwise than on the page: by telephone, on paper. */
@Component({
  selector: 'kettle-decide-quote-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatCheckboxModule],
  template: `
    <kettle-dialog-form [title]="title" [form]="form" (save)="save()">
      <kettle-text-field
        label="Who said so"
        i18n-label
        [formControl]="form.controls.name"
        [most]="160"
        startsHere
      />
      @if (asked.as === 'accepted') {
        @for (option of options; track option.at) {
          <mat-checkbox [checked]="chosen().has(option.at)" (change)="choose(option.at, $event.checked)">
            {{ option.name }}
          </mat-checkbox>
        }
      }
      <kettle-text-field
        label="In their words"
        i18n-label
        [rows]="3"
        [formControl]="form.controls.words"
        [most]="2000"
      />
    </kettle-dialog-form>
  `,
})
export class DecideDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DecideDialog, Quote>);
  private readonly undo = inject(Undo);
  protected readonly asked = inject<DecideAsked>(MAT_DIALOG_DATA);
  protected readonly title =
    this.asked.as === 'accepted' ? $localize`They accepted the quote` : $localize`They declined the quote`;
  protected readonly options = this.asked.quote.lines.flatMap(({ name, isOptional }, at) =>
    isOptional ? [{ at, name }] : [],
  );
  protected readonly chosen = signal<ReadonlySet<number>>(new Set());
  protected readonly form = new RecordForm({
    name: required(this.asked.quote.contactName),
    words: field(''),
  });

  protected choose(at: number, isChosen: boolean): void {
    this.chosen.update((all) => new Set([...all].filter((each) => each !== at).concat(isChosen ? [at] : [])));
  }

  protected save(): void {
    const { id, version } = this.asked.quote;
    const changeId = v7();
    this.form.send(
      { version, as: this.asked.as, ...this.form.getRawValue(), chosen: [...this.chosen()] },
      (body) => this.api.call('decideQuote', { params: { id }, body }, changeId),
      (quote) => {
        this.undo.offer($localize`Saved: the next step is planned.`, changeId);
        this.dialog.close(quote);
      },
    );
  }
}
