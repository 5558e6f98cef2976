import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { FormGroup, type FormControl } from '@angular/forms';
import type { Channel, NextStep } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { DayField } from '../../kit/day-field';
import { field, formParts, labelled, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';

/** What a deal goes on with, as it is typed. */
export type FirstStepControls = FormGroup<{
  purpose: FormControl<string>;
  channel: FormControl<Channel>;
  dueOn: FormControl<string>;
}>;

/** A call, on a day that is proposed. */
export const firstStepControls = (dueOn: string, purpose = ''): FirstStepControls =>
  new FormGroup({
    purpose: required(purpose),
    channel: field<Channel>('call'),
    dueOn: required(dueOn),
  });

/**
 * The step as the server takes it.
 * @param minutes how long each channel takes
 */
export function nextOf(step: FirstStepControls, minutes: Readonly<Record<Channel, number>>): NextStep {
  const typed = step.getRawValue();
  return { kind: 'task', ...typed, promisedMinute: null, minutes: minutes[typed.channel] };
}

/** Fields for the step that a deal goes on with; they take their places in the grid of the form around them. */
@Component({
  selector: 'kettle-first-step',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts],
  template: `
    <kettle-text-field
      label="Next step: purpose"
      i18n-label
      [class.wide]="isWide()"
      [formControl]="step().controls.purpose"
      [most]="200"
    />
    <kettle-choice-field
      label="How"
      i18n-label
      [formControl]="step().controls.channel"
      [options]="channels"
    />
    <kettle-day-field label="When" i18n-label [min]="user.today()" [formControl]="step().controls.dueOn" />
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class FirstStepFields {
  protected readonly user = inject(CurrentUser);
  readonly step = input.required<FirstStepControls>();
  /** What it is for has a row to itself. */
  readonly isWide = input(true);
  protected readonly channels = labelled(channelLabel);
}
