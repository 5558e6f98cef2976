import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { AgreementDetail } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';
import { DayPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { DealWords } from '../deals/index';

/** A notice that came in or was given, or an end that was agreed on. */
@Component({
  selector: 'kettle-end-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, DayPipe, formParts, ProposedField],
  template: `
    <kettle-dialog-form [title]="title" act="End it" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        <kettle-choice-field
          class="wide"
          label="How"
          i18n-label
          [formControl]="form.controls.how"
          [options]="hows"
        />
        @if (how() !== 'agreed') {
          <kettle-day-field
            label="Notice of"
            i18n-label
            [max]="user.today()"
            [formControl]="form.controls.noticeOn"
          />
        }
        <kettle-day-field label="It holds no more from" i18n-label [formControl]="form.controls.leavesOn" />
        <p class="wide soft">
          @if (asked.noticeToday.isLate) {
            <ng-container i18n>
              The last day for notice was {{ asked.agreement.noticeDeadlineOn | day: 'date' }}: it has renewed
              itself until {{ asked.noticeToday.leavesOn | day: 'date' }}. Choose an earlier day to let them
              go.
            </ng-container>
          } @else {
            <ng-container i18n>The term ends on {{ asked.noticeToday.leavesOn | day: 'date' }}.</ng-container>
          }
        </p>
        <kettle-proposed-field
          class="wide"
          label="Why"
          i18n-label
          [formControl]="form.controls.reason"
          [most]="300"
          [proposals]="reasons()"
        />
        <kettle-text-field
          class="wide"
          label="In their words"
          i18n-label
          [rows]="2"
          [formControl]="form.controls.words"
          [most]="2000"
        />
      </div>
    </kettle-dialog-form>
  `,
})
export class EndDialog {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<EndDialog>);
  protected readonly user = inject(CurrentUser);
  private readonly words = inject(DealWords);
  protected readonly asked = inject<AgreementDetail>(MAT_DIALOG_DATA);
  protected readonly title = $localize`${this.asked.agreement.name}:name:: notice or end`;
  protected readonly hows = [
    { value: 'theirs' as const, words: $localize`they gave notice` },
    { value: 'ours' as const, words: $localize`we gave notice` },
    { value: 'agreed' as const, words: $localize`an end was agreed on` },
  ];
  protected readonly reasons = computed(() => this.words.reasons()?.lost ?? []);
  protected readonly form = new RecordForm({
    how: field<'theirs' | 'ours' | 'agreed'>('theirs'),
    noticeOn: required(this.user.today()),
    leavesOn: required(this.asked.noticeToday.leavesOn),
    reason: required(''),
    words: field(''),
  });
  protected readonly how = toSignal(this.form.controls.how.valueChanges, {
    initialValue: this.form.controls.how.value,
  });

  constructor() {
    this.words.wake();
  }

  protected save(): void {
    const { id, version, name } = this.asked.agreement;
    const { how, noticeOn, ...said } = this.form.getRawValue();
    const changeId = v7();
    this.form.send(
      {
        by: how === 'ours' ? 'us' : 'customer',
        noticeOn: how === 'agreed' ? null : noticeOn,
        ...said,
      } as const,
      (body) => this.api.call('endAgreement', { params: { id }, body: { version, ...body } }, changeId),
      (ended) => {
        this.undo.offer($localize`${name}:name: ends.`, changeId);
        this.dialog.close(ended);
      },
    );
  }
}
