import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Channel, Task } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayMinute } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, resolvedOf, type Choices } from '../../kit/conflicts';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';

interface Asked {
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly name?: string | undefined;
  /** The task to change; without one, a task is planned. */
  readonly task?: Task;
}

const repeatChoices: readonly { rule: string; words: string }[] = [
  { rule: '', words: 'never' },
  { rule: 'FREQ=WEEKLY', words: 'every week' },
  { rule: 'FREQ=WEEKLY;INTERVAL=2', words: 'every two weeks' },
  { rule: 'FREQ=MONTHLY', words: 'every month' },
  { rule: 'FREQ=MONTHLY;INTERVAL=3', words: 'every three months' },
  { rule: 'FREQ=YEARLY', words: 'every year' },
];
const reminders: readonly { minutes: number | null; words: string }[] = [
  { minutes: null, words: 'none' },
  { minutes: 0, words: 'when it is due' },
  { minutes: 15, words: '15 minutes before' },
  { minutes: 60, words: 'an hour before' },
  { minutes: 1440, words: 'a day before' },
];

/** Plans a step by hand, for oneself or a colleague, or changes one. */
@Component({
  selector: 'kettle-task-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, DayField, choiceParts, MatButtonModule, Conflicts, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>
      {{ asked.task ? 'Change the step' : 'Plan a step' }}{{ asked.name ? ' with ' + asked.name : '' }}
    </h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <mat-form-field>
            <mat-label>How</mat-label>
            <mat-select name="channel" [(ngModel)]="channel">
              @for (name of channels; track name) {
                <mat-option [value]="name">{{ labels[name] }}</mat-option>
              }
            </mat-select>
          </mat-form-field>
          <kettle-day-field
            label="When"
            name="dueOn"
            [(ngModel)]="dueOn"
            required
            [problem]="problem()?.of('dueOn')"
          />
          <mat-form-field class="wide">
            <mat-label>Purpose</mat-label>
            <input
              matInput
              name="purpose"
              [(ngModel)]="purpose"
              maxlength="200"
              required
              cdkFocusInitial
              [kettleProblem]="problem()?.of('purpose')"
            />
            @if (problem()?.of('purpose'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <kettle-time-field label="Promised for a time?" name="promised" [(ngModel)]="promised" />
          <mat-form-field>
            <mat-label>Minutes</mat-label>
            <input
              matInput
              name="minutes"
              type="number"
              min="1"
              max="480"
              [(ngModel)]="minutes"
              [kettleProblem]="problem()?.of('minutes')"
            />
            @if (problem()?.of('minutes'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <mat-form-field>
            <mat-label>Assigned to</mat-label>
            <mat-select name="owner" [(ngModel)]="ownerId">
              @for (each of colleagues(); track each.id) {
                <mat-option [value]="each.id">{{ each.id === me ? 'I do' : each.name }}</mat-option>
              }
            </mat-select>
          </mat-form-field>
          <mat-form-field>
            <mat-label>Remind</mat-label>
            <mat-select name="remind" [(ngModel)]="remindMinutes">
              @for (each of reminders; track each.words) {
                <mat-option [value]="each.minutes">{{ each.words }}</mat-option>
              }
            </mat-select>
          </mat-form-field>
          <mat-form-field>
            <mat-label>Comes again</mat-label>
            <mat-select name="repeats" [(ngModel)]="repeats">
              @for (each of rules(); track each.rule) {
                <mat-option [value]="each.rule">{{ each.words }}</mat-option>
              }
            </mat-select>
          </mat-form-field>
          @if (repeats === 'own') {
            <mat-form-field>
              <mat-label>Own rule (RFC 5545)</mat-label>
              <input
                matInput
                name="rule"
                [(ngModel)]="ownRule"
                placeholder="FREQ=WEEKLY;BYDAY=MO"
                [kettleProblem]="problem()?.of('repeats')"
              />
              @if (problem()?.of('repeats'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
          }
        </div>
        <kettle-conflicts [problem]="problem()" [sent]="sent()" [(choices)]="choices" />
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">{{ asked.task ? 'Save' : 'Plan' }}</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class TaskDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<TaskDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly reminders = reminders;
  protected readonly problem = signal<ApiProblem | null>(null);
  /** What was sent last, and whose value holds where somebody else changed the same field. */
  protected readonly sent = signal<object>({});
  protected readonly choices = signal<Choices>({});
  private readonly people = reading((_: null) => this.api.call('listColleagues'));
  protected readonly me: string = this.user.person()?.id ?? '';
  protected readonly colleagues = computed(() => this.people.value()?.people ?? []);
  private readonly task = this.asked.task;
  protected channel: Channel = this.task?.channel ?? 'call';
  protected dueOn = this.task?.dueOn ?? this.user.today();
  protected purpose = this.task?.purpose ?? '';
  protected promised = this.task?.promisedAt ? sayMinute(this.user.minuteOf(this.task.promisedAt)) : '';
  protected minutes = this.task?.minutes ?? 6;
  protected ownerId: string = this.task?.ownerId ?? this.me;
  protected remindMinutes: number | null = this.task?.remindMinutes ?? null;
  protected repeats = this.ruleChoice();
  protected ownRule = this.task?.repeats ?? '';
  protected readonly rules = signal([...repeatChoices, { rule: 'own', words: 'by a rule of my own' }]);

  constructor() {
    this.people.read(null);
  }

  private ruleChoice(): string {
    const rule = this.task?.repeats ?? '';
    return repeatChoices.some((each) => each.rule === rule) ? rule : 'own';
  }

  protected save(): void {
    const [hour, minute] = this.promised.split(':').map(Number);
    const promisedMinute = hour === undefined || minute === undefined ? null : hour * 60 + minute;
    const { channel, dueOn, purpose, minutes, ownerId, remindMinutes } = this;
    const repeats = (this.repeats === 'own' ? this.ownRule.trim() : this.repeats) || null;
    const step = { channel, dueOn, purpose, minutes, promisedMinute, ownerId, remindMinutes, repeats };
    const { contactId, dealId } = this.asked;
    this.sent.set(step);
    const asked = this.task
      ? this.api.call('changeTask', {
          params: { id: this.task.id },
          body: { ...step, version: this.task.version, ...resolvedOf(this.problem(), this.choices()) },
        })
      : this.api.call('createTask', { body: { ...step, contactId, dealId } });
    asked.subscribe({
      next: (task) => this.dialog.close(task),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
