import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { firstValueFrom } from 'rxjs';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { mostStops, WalkLists } from '../../services/walk-lists';
import { GridPicks } from './grid-picks';
import { GridSpec } from './grid-spec';
import { GridStore } from './grid-store';

/** Walks what is picked in a list one after the other, or what its view finds. */
@Component({
  selector: 'kettle-walk-picked',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (count() > 0) {
      <button i18n matButton type="button" (click)="walk()">
        walk {{ count() }}
        <kbd>W</kbd>
      </button>
    }
  `,
})
export class WalkPicked {
  private readonly lists = inject(WalkLists);
  private readonly notices = inject(Notices);
  private readonly store = inject(GridStore);
  private readonly spec = inject(GridSpec);
  private readonly picks = inject(GridPicks);
  protected readonly count = computed(() => Math.min(mostStops, this.picks.count() || this.store.found()));
  readonly kind = input.required<'task' | 'contact' | 'deal' | 'lead'>();

  constructor() {
    inject(Keys).bind({
      keys: 'w',
      words: $localize`Walk the picked ones, or what is found`,
      act: () => void this.walk(),
      applies: () => this.count() > 0,
    });
  }

  protected async walk(): Promise<void> {
    try {
      const isAll = this.picks.isAll() || this.picks.count() === 0;
      const ids = isAll
        ? await firstValueFrom(this.store.ids(mostStops))
        : this.picks.rows().map(({ id }) => id);
      await this.lists.start(this.kind(), ids, sayCount(this.count(), this.spec.words.counted));
    } catch (error) {
      this.notices.problem(error);
    }
  }
}
