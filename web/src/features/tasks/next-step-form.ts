import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Channel, NextStep, Proposal } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayMinute } from '@kettle/core/time';
import type { ApiProblem } from '../../api/api';
import { DayPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';

export type NextStepDraft = NextStep;

/** The proposed next step with its reason, filled in and open to change: channel, day, time, purpose, or none with a reason. */
@Component({
  selector: 'kettle-next-step-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, DayPipe],
  template: `
    <fieldset class="next">
      <legend>
        <b>Next step</b>
        <span class="soft">{{ proposal().why }}</span>
      </legend>
      @switch (draft().kind) {
        @case ('run') {
          <p>
            {{ proposal().words }}
            <b>{{ proposal().on | day }}</b>
          </p>
        }
        @case ('none') {
          <label class="field">
            <span>
              {{ needsReason() ? 'No next step, because (a deal is open)' : 'No next step, because' }}
            </span>
            <input
              name="reason"
              [ngModel]="reason()"
              (ngModelChange)="changed.emit({ kind: 'none', reason: $event })"
              maxlength="300"
            />
            @if (problem()?.of('next.reason'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
        }
        @case ('task') {
          @if (task(); as step) {
            <div class="form-grid">
              <label class="field">
                <span>How</span>
                <select name="channel" [ngModel]="step.channel" (ngModelChange)="change({ channel: $event })">
                  @for (name of channels; track name) {
                    <option [value]="name">{{ labels[name] }}</option>
                  }
                </select>
              </label>
              <label class="field">
                <span>When · {{ step.dueOn | day }}</span>
                <input
                  name="dueOn"
                  type="date"
                  [min]="user.today()"
                  [ngModel]="step.dueOn"
                  (ngModelChange)="change({ dueOn: $event })"
                />
                @if (problem()?.of('next.dueOn'); as wrong) {
                  <span class="wrong">{{ wrong }}</span>
                }
              </label>
              <label class="field">
                <span>What for</span>
                <input
                  name="purpose"
                  [ngModel]="step.purpose"
                  (ngModelChange)="change({ purpose: $event })"
                  maxlength="200"
                />
                @if (problem()?.of('next.purpose'); as wrong) {
                  <span class="wrong">{{ wrong }}</span>
                }
              </label>
              <label class="field">
                <span>Promised for a time?</span>
                <input name="promised" type="time" [ngModel]="promised()" (ngModelChange)="promise($event)" />
              </label>
            </div>
          }
        }
      }
      <p class="choices">
        @if (draft().kind !== 'task') {
          <button type="button" class="bare" (click)="useTask()">set a day myself</button>
        }
        @if (draft().kind !== proposal().step.kind) {
          <button type="button" class="bare" (click)="changed.emit(proposal().step)">as proposed</button>
        }
        @if (draft().kind !== 'none') {
          <button type="button" class="bare" (click)="changed.emit({ kind: 'none', reason: '' })">
            no next step
          </button>
        }
      </p>
    </fieldset>
  `,
  styles: `
    .next {
      display: grid;
      gap: var(--space-2);
      padding-block-start: var(--space-2);
      border-block-start: 1px solid var(--hairline);
    }
    legend {
      display: contents;
    }
    .choices {
      display: flex;
      gap: var(--space-3);
    }
  `,
})
export class NextStepForm {
  protected readonly user = inject(CurrentUser);
  readonly proposal = input.required<Proposal>();
  readonly draft = input.required<NextStepDraft>();
  readonly problem = input<ApiProblem | null>(null);
  readonly needsReason = input(false);
  readonly changed = output<NextStepDraft>();

  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly task = computed(() => {
    const draft = this.draft();
    return draft.kind === 'task' ? draft : null;
  });
  protected readonly reason = computed(() => {
    const draft = this.draft();
    return draft.kind === 'none' ? draft.reason : '';
  });
  protected readonly promised = computed(() => {
    const minute = this.task()?.promisedMinute;
    return minute === null || minute === undefined ? '' : sayMinute(minute);
  });

  protected change(part: Partial<Extract<NextStepDraft, { kind: 'task' }>>): void {
    const step = this.task();
    if (step !== null) this.changed.emit({ ...step, ...part });
  }

  protected promise(time: string): void {
    const [hour, minute] = time.split(':').map(Number);
    this.change({ promisedMinute: hour === undefined || minute === undefined ? null : hour * 60 + minute });
  }

  protected useTask(): void {
    const { channel, on, step } = this.proposal();
    if (step.kind === 'task') return this.changed.emit(step);
    const purpose = 'follow up';
    this.changed.emit({
      kind: 'task',
      channel: channel ?? 'call',
      dueOn: on ?? this.user.today(),
      promisedMinute: null,
      purpose,
      minutes: 6,
    });
  }
}
