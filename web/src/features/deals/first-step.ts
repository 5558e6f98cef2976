import { ChangeDetectionStrategy, Component, inject, input, model } from '@angular/core';
import { ControlContainer, FormsModule, NgForm } from '@angular/forms';
import type { Channel, NextStep } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import type { ApiProblem } from '../../api/api';
import { CurrentUser } from '../../services/current-user';

/** What a deal goes on with, as it is typed. */
export interface FirstStep {
  readonly channel: Channel;
  readonly dueOn: string;
  readonly purpose: string;
}

const usualMinutes = 6;

/** The step as the server takes it. */
export const nextOf = ({ channel, dueOn, purpose }: FirstStep): NextStep => ({
  kind: 'task',
  channel,
  dueOn,
  promisedMinute: null,
  purpose,
  minutes: usualMinutes,
});

/** Fields for the step that a deal goes on with; they take their places in the grid of the form around them. */
@Component({
  selector: 'kettle-first-step',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule],
  viewProviders: [{ provide: ControlContainer, useExisting: NgForm }],
  template: `
    <label class="field" [class.wide]="isWide()">
      <span>Next step: what for</span>
      <input
        name="nextPurpose"
        [ngModel]="step().purpose"
        (ngModelChange)="change({ purpose: $event })"
        maxlength="200"
        required
      />
      @if (wrong('purpose'); as words) {
        <span class="wrong">{{ words }}</span>
      }
    </label>
    <label class="field">
      <span>How</span>
      <select name="nextChannel" [ngModel]="step().channel" (ngModelChange)="change({ channel: $event })">
        @for (name of channels; track name) {
          <option [value]="name">{{ labels[name] }}</option>
        }
      </select>
    </label>
    <label class="field">
      <span>When</span>
      <input
        name="nextOn"
        type="date"
        [min]="user.today()"
        [ngModel]="step().dueOn"
        (ngModelChange)="change({ dueOn: $event })"
        required
      />
      @if (wrong('dueOn'); as words) {
        <span class="wrong">{{ words }}</span>
      }
    </label>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class FirstStepFields {
  protected readonly user = inject(CurrentUser);
  readonly step = model.required<FirstStep>();
  readonly problem = input<ApiProblem | null>(null);
  /** Where the step stands in what is sent: what is wrong with it is named from there. */
  readonly under = input('next');
  /** What it is for has a row to itself. */
  readonly isWide = input(true);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];

  protected wrong(part: keyof FirstStep): string | null {
    return this.problem()?.of(`${this.under()}.${part}`) ?? null;
  }

  protected change(part: Partial<FirstStep>): void {
    this.step.update((step) => ({ ...step, ...part }));
  }
}
