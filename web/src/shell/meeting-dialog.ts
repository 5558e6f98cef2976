import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { localMoment, readTypedMinute, plainTime } from '@kettle/core/time';
import { Api } from '../api/api';
import { field, formParts, RecordForm, required } from '../kit/form';
import { TimeField } from '../kit/time-field';
import { CurrentUser } from '../services/current-user';
import { Notices } from '../services/notices';

/** Puts a meeting into a gap of today. */
@Component({
  selector: 'kettle-meeting-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, formParts],
  template: `
    <kettle-dialog-form
      title="Put a meeting on today"
      i18n-title
      act="Put it there"
      i18n-act
      [form]="form"
      (save)="save()"
    >
      <div class="form-grid">
        <kettle-text-field
          class="wide"
          label="What"
          i18n-label
          [formControl]="form.controls.title"
          [most]="160"
          startsHere
        />
        <kettle-time-field label="From" i18n-label [formControl]="form.controls.start" />
        <kettle-number-field
          kind="minutes"
          label="How long"
          i18n-label
          [formControl]="form.controls.minutes"
          [min]="5"
          [max]="600"
        />
        <kettle-text-field label="Where" i18n-label [formControl]="form.controls.place" [most]="160" />
        <kettle-number-field
          kind="minutes"
          label="Drive before"
          i18n-label
          [formControl]="form.controls.travelMinutes"
          [min]="0"
          [max]="480"
        />
      </div>
    </kettle-dialog-form>
  `,
})
export class MeetingDialog {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly dialog = inject(MatDialogRef<MeetingDialog>);
  private readonly asked = inject<{ startMinute: number; minutes: number }>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({
    title: required(''),
    start: required(plainTime(this.asked.startMinute)),
    minutes: required(this.asked.minutes),
    place: field(''),
    travelMinutes: required(0),
  });

  protected save(): void {
    const { start, minutes, place, ...typed } = this.form.getRawValue();
    const from = readTypedMinute(start) ?? 0;
    const at = (minute: number) => localMoment(this.user.today(), minute, this.user.zone());
    this.form.send(
      { ...typed, place: place || null, startsAt: at(from), endsAt: at(from + minutes) },
      (body) => this.api.call('createMeeting', { body }),
      () => this.dialog.close(),
    );
  }
}

@Component({
  selector: 'kettle-remove-meeting-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.title }}</h2>
    <mat-dialog-content>
      <p i18n>Taking it off the day gives its minutes back to the Round.</p>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" mat-dialog-close>Keep it</button>
      <button i18n matButton="outlined" (click)="remove()">Remove</button>
    </mat-dialog-actions>
  `,
})
export class RemoveMeetingDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialogRef<RemoveMeetingDialog>);
  protected readonly asked = inject<{ id: string; title: string }>(MAT_DIALOG_DATA);

  protected remove(): void {
    this.api.call('removeMeeting', { params: { id: this.asked.id } }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
