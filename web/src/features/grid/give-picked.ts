import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { GiveRecords } from '@kettle/contract';
import { of } from 'rxjs';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import type { GiveAsked } from './give-dialog';
import { GridPicks } from './grid-picks';
import { GridSpec } from './grid-spec';
import { GridStore } from './grid-store';

const mostAtOnce = 500;

/** What is done with picked leads, deals or tasks: another owner for all of them. */
@Component({
  selector: 'kettle-give-picked',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (picks.areOthers()) {
      <span i18n class="soft">These are colleagues’ {{ spec.words.many }}: their owners change them.</span>
    } @else if (picks.count() > most) {
      <span i18n class="soft">At most {{ most }} change their owner at once.</span>
    } @else {
      <button i18n matButton="outlined" type="button" (click)="give()">
        Change owner
        <kbd>B</kbd>
      </button>
    }
  `,
})
export class GivePicked {
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly store = inject(GridStore);
  protected readonly spec = inject(GridSpec);
  protected readonly picks = inject(GridPicks);
  readonly kind = input.required<GiveRecords['kind']>();
  protected readonly most = mostAtOnce;

  constructor() {
    inject(Keys).bind({
      keys: 'b',
      words: $localize`Change the owner of the picked ones`,
      act: () => this.give(),
    });
  }

  protected give(): void {
    const count = this.picks.count();
    if (count === 0 || count > mostAtOnce || this.picks.areOthers()) return;
    const ids$ = this.picks.isAll() ? this.store.ids() : of([...this.picks.ids()]);
    ids$.subscribe({
      next: (ids) => void this.ask(ids),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private async ask(ids: readonly string[]): Promise<void> {
    const { GiveDialog } = await import('./give-dialog');
    const data: GiveAsked = {
      kind: this.kind(),
      ids,
      words: sayCount(ids.length, this.spec.words.counted),
    };
    this.dialog
      .open(GiveDialog, { data, width: '420px' })
      .afterClosed()
      .subscribe((isDone: boolean | undefined) => {
        if (!isDone) return;
        this.picks.none();
        this.store.again();
      });
  }
}
