import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { RoundRow } from '@kettle/contract';
import { readTypedMinute, sayMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { formParts, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';

const grain = 5;

/** Asks for a time of today: the gaps in which it fits, or any other. Answers with the minute of the day. */
@Component({
  selector: 'kettle-time-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, TimeField, MatButtonModule],
  template: `
    <kettle-dialog-form [title]="title" act="Set" i18n-act [form]="form" (save)="save()">
      @if (gaps().length > 0) {
        <div class="gaps" role="group" aria-label="Free times it fits into" i18n-aria-label>
          @for (gap of gaps(); track gap.minute) {
            <button matButton="outlined" type="button" (click)="dialog.close(gap.minute)">
              {{ gap.words }}
            </button>
          }
        </div>
      } @else if (day.value()) {
        <p i18n class="soft">No gap of today is long enough for its {{ row.minutes }} minutes.</p>
      }
      <kettle-time-field label="Another time" i18n-label [formControl]="form.controls.time" />
    </kettle-dialog-form>
  `,
  styles: `
    .gaps {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
})
export class TimeDialog {
  protected readonly dialog = inject<MatDialogRef<TimeDialog, number>>(MatDialogRef);
  protected readonly row = inject<RoundRow>(MAT_DIALOG_DATA);
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  protected readonly title = $localize`A time today: ${this.row.contactName}:name:`;
  protected readonly form = new RecordForm({ time: required('') });
  protected readonly day = reading((_: null) => this.api.call('spine'));
  protected readonly gaps = computed(() =>
    (this.day.value()?.gaps ?? [])
      .map(({ from, minutes }) => {
        const begins = this.user.minuteOf(from);
        const minute = Math.ceil(begins / grain) * grain;
        return { minute, left: minutes - (minute - begins) };
      })
      .filter(({ left }) => left >= this.row.minutes)
      .map(({ minute, left }) => ({
        minute,
        words: $localize`${sayMinute(minute)}:time:, ${left}:minutes: min free`,
      })),
  );

  constructor() {
    this.day.read(null);
  }

  protected save(): void {
    const minute = readTypedMinute(this.form.controls.time.value);
    if (this.form.isFilledIn() && minute !== null) this.dialog.close(minute);
  }
}
