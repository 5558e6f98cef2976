import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { JournalEntry } from '@kettle/contract';
import { localMoment, readTypedMinute, plainTime } from '@kettle/core/time';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';
import { RichBox } from './rich-box';

/** Changes what an entry says, when it was and how long it took. What it said before is kept. */
@Component({
  selector: 'kettle-entry-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, DayField, formParts, RichBox],
  template: `
    <kettle-dialog-form
      title="Edit the entry"
      i18n-title
      [form]="form"
      [named]="named"
      [say]="say"
      (save)="save()"
    >
      @if (before.isRich) {
        <kettle-rich-box
          [text]="before.body"
          (changed)="form.controls.body.setValue($event)"
          (done)="save()"
        />
      } @else {
        <kettle-text-field
          label="What was said"
          i18n-label
          [rows]="5"
          [formControl]="form.controls.body"
          startsHere
        />
      }
      <div class="form-grid">
        <kettle-day-field label="On" i18n-label [max]="user.today()" [formControl]="form.controls.on" />
        <kettle-time-field label="At" i18n-label [formControl]="form.controls.at" />
        @if (before.kind !== 'note') {
          <kettle-number-field
            kind="minutes"
            label="How long"
            i18n-label
            [formControl]="form.controls.minutes"
            [min]="0"
            [max]="1440"
          />
        }
      </div>
    </kettle-dialog-form>
  `,
})
export class EntryDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<EntryDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly before = inject<JournalEntry>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({
    body: field(this.before.body),
    on: required(this.user.dateOf(this.before.at)),
    at: required(plainTime(this.user.minuteOf(this.before.at))),
    minutes: field(this.before.minutes),
  });

  protected save(): void {
    const { body, on, at: time, minutes } = this.form.getRawValue();
    const minute = readTypedMinute(time) ?? 0;
    const isSameMoment =
      on === this.user.dateOf(this.before.at) && minute === this.user.minuteOf(this.before.at);
    const at = isSameMoment ? this.before.at : localMoment(on, minute, this.user.zone());
    this.form.send(
      { version: this.before.version, body, at, minutes: minutes || null },
      (sent) => this.api.call('editEntry', { params: { id: this.before.id }, body: sent }),
      () => this.dialog.close(),
    );
  }

  protected readonly named = (path: string): string | null =>
    ({ body: $localize`What was said`, at: $localize`When it was`, minutes: $localize`Minutes` })[path] ??
    null;

  protected readonly say = (path: string, value: unknown): string | null => {
    if (path === 'at') return `${this.user.dateOf(String(value))} ${this.user.timeOf(String(value))}`;
    // Rich text is said without its shape.
    return path === 'body' && this.before.isRich
      ? (new DOMParser().parseFromString(String(value), 'text/html').body.textContent ?? '')
      : null;
  };
}
