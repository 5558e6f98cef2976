import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { addDays, addMonths, startOfQuarter } from '@kettle/core/time';
import { CurrentUser } from '../services/current-user';
import { DayPipe } from './say.pipes';

/** Days on which something is taken up again, for a press each; never a day off. */
@Component({
  selector: 'kettle-day-proposals',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe, MatButtonModule],
  template: `
    @for (each of days(); track each.day) {
      <button matButton="outlined" type="button" (click)="picked.emit(each.day)">
        {{ each.words }}
        <span class="soft">{{ each.day | day: 'date' }}</span>
      </button>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
})
export class DayProposals {
  private readonly user = inject(CurrentUser);
  /** The soonest that makes sense: a step is put off for a day, a deal is parked for longer. */
  readonly from = input<'tomorrow' | 'in a week'>('tomorrow');
  /** A day that is reckoned for it, which goes before the others. */
  readonly first = input<string | null>(null);
  readonly picked = output<string>();

  protected readonly days = computed(() => {
    const today = this.user.today();
    const later = [
      { words: $localize`in a week`, day: addDays(today, 7) },
      { words: $localize`in a month`, day: addMonths(today, 1) },
      { words: $localize`next quarter`, day: addMonths(startOfQuarter(today), 3) },
    ];
    const tomorrow = addDays(today, 1);
    const sooner = [
      {
        words:
          this.user.workdayFrom(tomorrow) === tomorrow ? $localize`tomorrow` : $localize`next working day`,
        day: tomorrow,
      },
      { words: $localize`in three days`, day: addDays(today, 3) },
    ];
    const first = this.first();
    const all = [
      ...(first === null ? [] : [{ words: $localize`where there is room`, day: first }]),
      ...(this.from() === 'tomorrow' ? sooner : []),
      ...later,
    ].map(({ words, day }) => ({ words, day: this.user.workdayFrom(day) }));
    return all.filter(({ day }, at) => all.findIndex((other) => other.day === day) === at);
  });
}
