import { computed, inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { ContactRow, Selection } from '@kettle/contract';
import { of } from 'rxjs';
import { Notices } from '../../services/notices';
import { GridPicks, GridStore, GridView } from '../grid/index';

/** A start shows the dates of everybody; more go by a change of many. */
const mostStarted = 500;
const othersPeople = $localize`These are colleagues’ people: their owners change them.`;

/** What is done with all picked people at once. */
@Injectable()
export class PickedPeople {
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly picks = inject<GridPicks<ContactRow>>(GridPicks);
  private readonly store = inject<GridStore<ContactRow>>(GridStore);
  private readonly view = inject<GridView<ContactRow>>(GridView);
  readonly mostStarted = mostStarted;
  readonly othersPeople = othersPeople;
  readonly canStart = computed(() => this.picks.count() <= mostStarted);

  async changeMany(): Promise<void> {
    if (this.picks.count() === 0) return;
    if (this.picks.areOthers()) {
      this.notices.say(othersPeople);
      return;
    }
    const { BulkDialog } = await import('./bulk-dialog');
    const { sort: _, group: __, ...query } = this.view.query();
    const selection: Selection | { query: object } = this.picks.isAll()
      ? { query }
      : { ids: [...this.picks.ids()] as never };
    this.dialog
      .open(BulkDialog, { data: { selection, count: this.picks.count() }, width: '560px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((isDone: boolean | undefined) => {
        if (isDone) this.picks.none();
      });
  }

  startCadence(): void {
    const ids$ = this.picks.isAll() ? this.store.ids() : of([...this.picks.ids()]);
    ids$.subscribe({
      next: (contactIds) => void this.openStart(contactIds),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private async openStart(contactIds: readonly string[]): Promise<void> {
    const { StartDialog } = await import('../cadences/start-dialog');
    this.dialog
      .open(StartDialog, { data: { contactIds }, width: '760px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((started: boolean | undefined) => {
        if (started) this.picks.none();
      });
  }
}
