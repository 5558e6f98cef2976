import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { TetherFacts } from '@kettle/contract';
import { sayShortDay } from '@kettle/core/time';
import { CurrentUser } from '../services/current-user';

/** The day of the next step in a list, with its time where one was promised; what is due or late stands out. Nothing planned is said too. */
@Component({
  selector: 'kettle-step-day',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span [class.now]="isDue()" [class.soft]="!facts().nextStepOn && !isDue()">{{ words() }}</span>
  `,
})
export class StepDay {
  private readonly user = inject(CurrentUser);
  readonly facts = input.required<TetherFacts>();
  /** What is said where nothing is planned; where that is a gap, it stands out as what is due does. */
  readonly none = input<'none' | 'loose'>('none');

  protected readonly isDue = computed(() => {
    const on = this.facts().nextStepOn;
    return on === null ? this.none() === 'loose' : on <= this.user.today();
  });
  protected readonly words = computed(() => {
    const { nextStepOn, nextStepAt } = this.facts();
    if (nextStepOn === null) return this.none();
    const time = nextStepAt === null ? '' : ` ${this.user.timeOf(nextStepAt)}`;
    return sayShortDay(nextStepOn, this.user.today()) + time;
  });
}
