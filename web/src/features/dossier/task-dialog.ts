import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Channel, Task } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { readTypedMinute, plainTime } from '@kettle/core/time';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, labelled, type Option, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';

interface Asked {
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly name?: string | undefined;
  /** How, where that was said. */
  readonly channel?: Channel | undefined;
  /** Why it is asked for, where nobody pressed for it. */
  readonly because?: string | undefined;
  /** The task to change; without one, a task is planned. */
  readonly task?: Task;
}

const repeatChoices: readonly Option<string>[] = [
  { value: '', words: $localize`never` },
  { value: 'FREQ=WEEKLY', words: $localize`every week` },
  { value: 'FREQ=WEEKLY;INTERVAL=2', words: $localize`every two weeks` },
  { value: 'FREQ=MONTHLY', words: $localize`every month` },
  { value: 'FREQ=MONTHLY;INTERVAL=3', words: $localize`every three months` },
  { value: 'FREQ=YEARLY', words: $localize`every year` },
];
const reminders: readonly Option<number | null>[] = [
  { value: null, words: $localize`none` },
  { value: 0, words: $localize`when it is due` },
  { value: 15, words: $localize`15 minutes before` },
  { value: 60, words: $localize`an hour before` },
  { value: 1440, words: $localize`a day before` },
];

/** Plans a step by hand, for oneself or a colleague, or changes one. */
@Component({
  selector: 'kettle-task-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, DayField, formParts],
  template: `
    <kettle-dialog-form
      [title]="title"
      [act]="asked.task ? texts.save : texts.plan"
      [form]="form"
      (save)="save()"
    >
      @if (asked.because; as words) {
        <p class="soft">{{ words }}</p>
      }
      <div class="form-grid">
        <kettle-choice-field
          label="How"
          i18n-label
          [formControl]="form.controls.channel"
          [options]="channels"
        />
        <kettle-day-field label="When" i18n-label [formControl]="form.controls.dueOn" warns />
        <kettle-text-field
          class="wide"
          label="Purpose"
          i18n-label
          [formControl]="form.controls.purpose"
          [most]="200"
          startsHere
        />
        <kettle-time-field label="Promised for a time?" i18n-label [formControl]="form.controls.promised" />
        <kettle-number-field
          kind="minutes"
          label="How long"
          i18n-label
          [formControl]="form.controls.minutes"
          [min]="1"
          [max]="480"
        />
        <kettle-choice-field
          label="Assigned to"
          i18n-label
          [formControl]="form.controls.ownerId"
          [options]="colleagues()"
        />
        <kettle-choice-field
          label="Remind"
          i18n-label
          [formControl]="form.controls.remindMinutes"
          [options]="reminders"
        />
        <kettle-choice-field
          label="Comes again"
          i18n-label
          [formControl]="form.controls.comesAgain"
          [options]="rules"
        />
        @if (form.controls.comesAgain.value === 'own') {
          <kettle-text-field
            label="Own rule (RFC 5545)"
            i18n-label
            [formControl]="form.controls.repeats"
            placeholder="FREQ=WEEKLY;BYDAY=MO"
            i18n-placeholder
          />
        }
      </div>
    </kettle-dialog-form>
  `,
})
export class TaskDialog {
  protected readonly texts = {
    save: $localize`Save`,
    plan: $localize`Plan`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<TaskDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly title = this.titled(this.asked);
  protected readonly channels = labelled(channelLabel);
  protected readonly reminders = reminders;
  private readonly people = inject(PeopleWords);
  private readonly me: string = this.user.person()?.id ?? '';
  protected readonly colleagues = computed(() =>
    this.people.colleagues().map(({ id, name }) => ({
      value: id,
      words: id === this.me ? $localize`me` : name,
    })),
  );
  protected readonly rules = [...repeatChoices, { value: 'own', words: $localize`by a rule of my own` }];
  private readonly task = this.asked.task;
  protected readonly form = new RecordForm({
    channel: field<Channel>(this.task?.channel ?? this.asked.channel ?? 'call'),
    dueOn: required(this.task?.dueOn ?? this.user.today()),
    purpose: required(this.task?.purpose ?? ''),
    promised: field(this.task?.promisedAt ? plainTime(this.user.minuteOf(this.task.promisedAt)) : ''),
    minutes: required(this.task?.minutes ?? this.user.minutes()[this.asked.channel ?? 'call']),
    ownerId: field<string>(this.task?.ownerId ?? this.me),
    remindMinutes: field(this.task?.remindMinutes ?? null),
    comesAgain: field(this.ruleChoice()),
    repeats: field(this.task?.repeats ?? ''),
  });

  constructor() {
    this.people.wake();
    const { channel, minutes } = this.form.controls;
    // Another way takes another time, as long as nobody said how long.
    channel.valueChanges.pipe(takeUntilDestroyed()).subscribe((by) => {
      if (!this.task && !minutes.dirty) minutes.setValue(this.user.minutes()[by]);
    });
  }

  private titled({ task, name, because }: Asked): string {
    if (task) return name ? $localize`Change the step with ${name}:name:` : $localize`Change the step`;
    if (because) return name ? $localize`What next with ${name}:name:?` : $localize`What next?`;
    return name ? $localize`Plan a step with ${name}:name:` : $localize`Plan a step`;
  }

  private ruleChoice(): string {
    const rule = this.task?.repeats ?? '';
    return repeatChoices.some(({ value }) => value === rule) ? rule : 'own';
  }

  protected save(): void {
    const { promised, comesAgain, repeats, ...typed } = this.form.getRawValue();
    const step = {
      ...typed,
      promisedMinute: readTypedMinute(promised),
      repeats: (comesAgain === 'own' ? repeats.trim() : comesAgain) || null,
    };
    const done = (task: Task) => this.dialog.close(task);
    const { contactId, dealId } = this.asked;
    const { task } = this;
    if (task)
      this.form.send(
        { ...step, version: task.version },
        (body) => this.api.call('changeTask', { params: { id: task.id }, body }),
        done,
      );
    else
      this.form.send({ ...step, contactId, dealId }, (body) => this.api.call('createTask', { body }), done);
  }
}
