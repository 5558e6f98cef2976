import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { Channel, NextStep, Proposal } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayMinute } from '@kettle/core/time';
import type { ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { DayPipe } from '../../kit/say.pipes';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';

export type NextStepDraft = NextStep;

/** The proposed next step with its reason, filled in and open to change: channel, day, time, purpose, or none with a reason. */
@Component({
  selector: 'kettle-next-step-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, DayField, choiceParts, MatButtonModule, FormsModule, DayPipe],
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
          <mat-form-field>
            <mat-label>
              {{ needsReason() ? 'No next step, because (a deal is open)' : 'No next step, because' }}
            </mat-label>
            <input
              matInput
              name="reason"
              [ngModel]="reason()"
              (ngModelChange)="changed.emit({ kind: 'none', reason: $event })"
              maxlength="300"
              [kettleProblem]="problem()?.of('next.reason')"
            />
            @if (problem()?.of('next.reason'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
        }
        @case ('task') {
          @if (task(); as step) {
            <div class="form-grid">
              <mat-form-field>
                <mat-label>How</mat-label>
                <mat-select name="channel" [ngModel]="step.channel" (ngModelChange)="changeChannel($event)">
                  @for (name of channels; track name) {
                    <mat-option [value]="name">{{ labels[name] }}</mat-option>
                  }
                </mat-select>
              </mat-form-field>
              <kettle-day-field
                label="When · {{ step.dueOn | day }}"
                name="dueOn"
                [min]="user.today()"
                [ngModel]="step.dueOn"
                (ngModelChange)="change({ dueOn: $event })"
                [problem]="problem()?.of('next.dueOn')"
              />
              <mat-form-field>
                <mat-label>Purpose</mat-label>
                <input
                  matInput
                  name="purpose"
                  [ngModel]="step.purpose"
                  (ngModelChange)="change({ purpose: $event })"
                  maxlength="200"
                  [kettleProblem]="problem()?.of('next.purpose')"
                />
                @if (problem()?.of('next.purpose'); as wrong) {
                  <mat-error>{{ wrong }}</mat-error>
                }
              </mat-form-field>
              <kettle-time-field
                label="Promised for a time?"
                name="promised"
                [ngModel]="promised()"
                (ngModelChange)="promise($event)"
              />
            </div>
          }
        }
      }
      <p class="choices">
        @if (draft().kind !== 'task') {
          <button matButton type="button" (click)="useTask()">set a day myself</button>
        }
        @if (draft().kind !== proposal().step.kind) {
          <button matButton type="button" (click)="changed.emit(proposal().step)">as proposed</button>
        }
        @if (draft().kind !== 'none') {
          <button matButton type="button" (click)="changed.emit({ kind: 'none', reason: '' })">
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

  /** Another way takes another time. */
  protected changeChannel(channel: Channel): void {
    this.change({ channel, minutes: this.user.minutes()[channel] });
  }

  protected promise(time: string): void {
    const [hour, minute] = time.split(':').map(Number);
    this.change({ promisedMinute: hour === undefined || minute === undefined ? null : hour * 60 + minute });
  }

  protected useTask(): void {
    const { channel, on, step } = this.proposal();
    if (step.kind === 'task') return this.changed.emit(step);
    const purpose = 'follow up';
    const by = channel ?? 'call';
    this.changed.emit({
      kind: 'task',
      channel: by,
      dueOn: on ?? this.user.today(),
      promisedMinute: null,
      purpose,
      minutes: this.user.minutes()[by],
    });
  }
}
