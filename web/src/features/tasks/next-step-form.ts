import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Channel, NextStep, Proposal } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { readTypedMinute, plainTime } from '@kettle/core/time';
import type { ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { formParts, labelled } from '../../kit/form';
import { DayPipe } from '../../kit/say.pipes';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';

export type NextStepDraft = NextStep;

/** The proposed next step with its reason, filled in and open to change: channel, day, time, purpose, or none with a reason. */
@Component({
  selector: 'kettle-next-step-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, DayField, formParts, MatButtonModule, DayPipe],
  template: `
    <fieldset class="next">
      <legend>
        <b i18n>Next step</b>
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
          <kettle-text-field
            [label]="needsReason() ? texts.noNextStepBecause : texts.noNextStepBecause2"
            [value]="reason()"
            (valueChange)="changed.emit({ kind: 'none', reason: $event })"
            [most]="300"
            [problem]="problem()?.of('next.reason')"
          />
        }
        @case ('task') {
          @if (isFolded() && task(); as step) {
            <p class="folded">
              <span>
                {{ label() }}
                <b>{{ step.dueOn | day: 'date' }}{{ promised() ? texts.at(promised()) : '' }}</b>
                · {{ step.purpose }}
              </span>
              <button i18n matButton type="button" (click)="open()">Change</button>
            </p>
          } @else if (task(); as step) {
            <div class="form-grid">
              <kettle-choice-field
                label="How"
                i18n-label
                [options]="channels"
                [value]="step.channel"
                (valueChange)="changeChannel($event!)"
              />
              <kettle-day-field
                label="When · {{ step.dueOn | day }}"
                i18n-label
                [min]="user.today()"
                [value]="step.dueOn"
                (valueChange)="change({ dueOn: $event })"
                [problem]="problem()?.of('next.dueOn')"
              />
              <kettle-text-field
                label="Purpose"
                i18n-label
                [value]="step.purpose"
                (valueChange)="change({ purpose: $event })"
                [most]="200"
                [problem]="problem()?.of('next.purpose')"
              />
              <kettle-time-field
                label="Promised for a time?"
                i18n-label
                [value]="promised()"
                (valueChange)="promise($event)"
              />
            </div>
          }
        }
      }
      <p class="choices">
        @if (draft().kind !== 'task') {
          <button i18n matButton type="button" (click)="useTask()">set a day myself</button>
        }
        @if (draft().kind !== proposal().step.kind) {
          <button i18n matButton type="button" (click)="changed.emit(proposal().step)">as proposed</button>
        }
        @if (draft().kind !== 'none' && !isFolded()) {
          <button i18n matButton type="button" (click)="changed.emit({ kind: 'none', reason: '' })">
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
    .folded {
      display: flex;
      justify-content: space-between;
      align-items: center;
    }
    .choices {
      display: flex;
      gap: var(--space-3);
    }
  `,
})
export class NextStepForm {
  protected readonly texts = {
    noNextStepBecause: $localize`No next step, because (a deal is open)`,
    noNextStepBecause2: $localize`No next step, because`,
    at: (promised: string | number) => $localize` at ${promised}:promised:`,
  };

  protected readonly user = inject(CurrentUser);
  readonly proposal = input.required<Proposal>();
  readonly draft = input.required<NextStepDraft>();
  readonly problem = input<ApiProblem | null>(null);
  readonly needsReason = input(false);
  /** On a small screen what is proposed takes one line until somebody wants it otherwise. */
  readonly folds = input(false);
  readonly changed = output<NextStepDraft>();

  protected readonly channels = labelled(channelLabel);
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
    return minute === null || minute === undefined ? '' : plainTime(minute);
  });

  protected readonly label = computed(() => channelLabel[this.task()?.channel ?? 'other']);
  private readonly isOpened = linkedSignal({ source: this.proposal, computation: () => false });
  protected readonly isFolded = computed(
    () => this.folds() && !this.isOpened() && this.draft().kind === 'task' && !this.hasProblem(),
  );
  private readonly hasProblem = computed(() => {
    const problem = this.problem();
    return ['next.dueOn', 'next.purpose'].some((path) => problem?.of(path));
  });

  protected open(): void {
    this.isOpened.set(true);
  }

  protected change(part: Partial<Extract<NextStepDraft, { kind: 'task' }>>): void {
    const step = this.task();
    if (step !== null) this.changed.emit({ ...step, ...part });
  }

  /** Another way takes another time. */
  protected changeChannel(channel: Channel): void {
    this.change({ channel, minutes: this.user.minutes()[channel] });
  }

  protected promise(time: string): void {
    this.change({ promisedMinute: readTypedMinute(time) });
  }

  protected useTask(): void {
    const { channel, on, step } = this.proposal();
    if (step.kind === 'task') return this.changed.emit(step);
    const purpose = $localize`follow up`;
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
