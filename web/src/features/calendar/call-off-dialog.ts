import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Appointment, CallOf, PlainDate } from '@kettle/contract';
import { addDays, localMoment, minutesBetween, plainTime, readTypedMinute } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, type Option, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';

type Instead = 'moved' | 'task' | 'none';
type Body = NonNullable<CallOf<'callOffAppointment'>['body']>;

/** Calls an appointment off and says in the same act what comes instead. Answers with the change's id. */
@Component({
  selector: 'kettle-call-off-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, DayField, TimeField],
  template: `
    <kettle-dialog-form [title]="title" act="Call off" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        <kettle-text-field
          class="wide"
          label="Why"
          i18n-label
          [formControl]="form.controls.reason"
          [most]="300"
          startsHere
        />
        <kettle-choice-field
          class="wide"
          label="Instead"
          i18n-label
          [formControl]="form.controls.instead"
          [options]="choices"
        />
        @if (instead() !== 'none') {
          <kettle-day-field
            label="Day"
            i18n-label
            [formControl]="form.controls.dueOn"
            [min]="user.today()"
            [problem]="form.submission.problem()?.of('instead.startsAt')"
            warns
          />
        }
        @if (instead() === 'moved') {
          <kettle-time-field label="From" i18n-label [formControl]="form.controls.start" />
        }
      </div>
    </kettle-dialog-form>
  `,
})
export class CallOffDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<CallOffDialog, string>>(MatDialogRef);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<Appointment>(MAT_DIALOG_DATA);
  protected readonly title = $localize`Call off: ${this.asked.title}:title:`;
  protected readonly choices: readonly Option<Instead>[] = [
    { value: 'moved', words: $localize`another time` },
    ...(this.asked.taskId === null
      ? []
      : [{ value: 'task' as const, words: $localize`a call to find another time` }]),
    { value: 'none', words: $localize`nothing` },
  ];
  protected readonly form = new RecordForm({
    reason: field(''),
    instead: field<Instead>(this.asked.taskId === null ? 'none' : 'moved'),
    dueOn: required<string>(this.user.workdayFrom(addDays(this.user.today(), 7))),
    start: required(plainTime(this.user.minuteOf(this.asked.startsAt))),
  });
  protected readonly instead = toSignal(this.form.controls.instead.valueChanges, {
    initialValue: this.form.controls.instead.value,
  });

  protected save(): void {
    const { reason, ...typed } = this.form.getRawValue();
    const minute = readTypedMinute(typed.start);
    if (!this.form.isFilledIn() || minute === null) return;
    const changeId = v7();
    this.form.send(
      { version: this.asked.version, reason, instead: this.insteadOf(typed.instead, typed.dueOn, minute) },
      (body) => this.api.call('callOffAppointment', { params: { id: this.asked.id }, body }, changeId),
      () => this.dialog.close(changeId),
    );
  }

  private insteadOf(kind: Instead, dueOn: PlainDate, minute: number): Body['instead'] {
    switch (kind) {
      case 'moved':
        return {
          kind,
          startsAt: localMoment(dueOn, minute, this.user.zone()),
          minutes: minutesBetween(this.asked.startsAt, this.asked.endsAt),
        };
      case 'task':
        return {
          kind,
          channel: 'call',
          purpose: $localize`find another time: ${this.asked.title}:title:`.slice(0, 200),
          dueOn,
          minutes: this.user.minutes().call,
        };
      case 'none':
        return { kind };
    }
  }
}
