import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { channelLabel, type ClosingSteps } from '@kettle/contract';
import { DayPipe } from '../../kit/say.pipes';

const shown = 5;

/** Planned steps that closing a deal drops, or that opening it again brings back. */
@Component({
  selector: 'kettle-closing-steps',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe],
  template: `
    <ul class="steps">
      @for (step of first(); track step.id) {
        <li>{{ labels[step.channel] }} · {{ step.dueOn | day }} · {{ step.purpose }}</li>
      }
      @for (name of planned().cadences; track name) {
        <li i18n>Cadence “{{ name }}”</li>
      }
      @if (more() > 0) {
        <li i18n class="soft">and {{ more() }} more</li>
      }
    </ul>
  `,
  styles: `
    .steps {
      margin-block: var(--space-1) 0;
      padding-inline-start: var(--space-4);
    }
  `,
})
export class ClosingStepList {
  readonly planned = input.required<ClosingSteps>();
  protected readonly labels = channelLabel;
  protected readonly first = computed(() => this.planned().steps.slice(0, shown));
  protected readonly more = computed(() => this.planned().steps.length - this.first().length);
}
