import { ChangeDetectionStrategy, Component, inject, input, model } from '@angular/core';
import { ControlContainer, FormsModule, NgForm } from '@angular/forms';
import type { Channel, NextStep } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import type { ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
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
  imports: [DayField, choiceParts, FormsModule],
  viewProviders: [{ provide: ControlContainer, useExisting: NgForm }],
  template: `
    <mat-form-field [class.wide]="isWide()">
      <mat-label>Next step: purpose</mat-label>
      <input
        matInput
        name="nextPurpose"
        [ngModel]="step().purpose"
        (ngModelChange)="change({ purpose: $event })"
        maxlength="200"
        required
        [kettleProblem]="wrong('purpose')"
      />
      @if (wrong('purpose'); as words) {
        <mat-error>{{ words }}</mat-error>
      }
    </mat-form-field>
    <mat-form-field>
      <mat-label>How</mat-label>
      <mat-select name="nextChannel" [ngModel]="step().channel" (ngModelChange)="change({ channel: $event })">
        @for (name of channels; track name) {
          <mat-option [value]="name">{{ labels[name] }}</mat-option>
        }
      </mat-select>
    </mat-form-field>
    <kettle-day-field
      label="When"
      name="nextOn"
      [min]="user.today()"
      [ngModel]="step().dueOn"
      (ngModelChange)="change({ dueOn: $event })"
      required
      [problem]="wrong('dueOn')"
    />
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
