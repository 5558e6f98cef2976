import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { UserId } from '@kettle/contract';
import { sayMonth } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { field, formParts, RecordForm } from '../../kit/form';
import { NumberField } from '../../kit/number-field';
import { Undo } from '../../services/undo';

export interface QuotaAsked {
  readonly userId: UserId;
  readonly isTeam: boolean;
  /** As the list names it. */
  readonly whose: string;
  readonly month: string;
  readonly minor: number | null;
}

/** What somebody is to win in a month, alone or from it on. */
@Component({
  selector: 'kettle-quota-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, NumberField],
  template: `
    <kettle-dialog-form [title]="title" act="Set it" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        <kettle-number-field
          class="wide"
          label="Quota a month (empty: none)"
          i18n-label
          kind="money"
          [formControl]="form.controls.minor"
        />
        <kettle-choice-field
          class="wide"
          label="It holds"
          i18n-label
          [options]="holds"
          [formControl]="form.controls.holds"
        />
      </div>
    </kettle-dialog-form>
  `,
})
export class QuotaDialog {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<QuotaDialog>);
  private readonly asked = inject<QuotaAsked>(MAT_DIALOG_DATA);
  private readonly when = `${sayMonth(this.asked.month, 'long')} ${this.asked.month.slice(0, 4)}`;
  protected readonly title = $localize`Quota of ${this.asked.whose}:whose: in ${this.when}:when:`;
  protected readonly holds = [
    { value: 'on' as const, words: $localize`from this month on, until another is set` },
    { value: 'month' as const, words: $localize`in this month alone` },
  ];
  protected readonly form = new RecordForm({
    minor: field<number | null>(this.asked.minor),
    holds: field<'on' | 'month'>('on'),
  });

  protected save(): void {
    const { userId, isTeam, month, whose } = this.asked;
    const changeId = v7();
    this.form.send(
      this.form.getRawValue(),
      (said) => this.api.call('setQuota', { body: { userId, isTeam, month, ...said } }, changeId),
      () => {
        this.undo.offer($localize`Quota of ${whose}:whose: set.`, changeId);
        this.dialog.close();
      },
    );
  }
}
