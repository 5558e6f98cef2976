import { computed, inject, Injectable, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { ContactRow, Selection } from '@kettle/contract';
import { of } from 'rxjs';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { PeopleStore } from './people.store';
import { PeopleView } from './people-view';

/** A start shows the dates of everybody; more go by a change of many. */
const mostStarted = 500;
const othersPeople = 'These are colleagues’ people: their owners change them.';

/** Who is picked in the list, and what is done with all of them at once. */
@Injectable()
export class PickedPeople {
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly store = inject(PeopleStore);
  private readonly view = inject(PeopleView);
  private readonly user = inject(CurrentUser);
  readonly mostStarted = mostStarted;
  readonly othersPeople = othersPeople;
  private readonly picks = signal<ReadonlyMap<string, ContactRow>>(new Map());
  readonly ids = computed<ReadonlySet<string>>(() => new Set(this.picks().keys()));
  /** Everybody the view finds is meant, not only who was picked one by one. */
  readonly isAll = signal(false);
  readonly count = computed(() => (this.isAll() ? (this.store.count()?.found ?? 0) : this.ids().size));
  /** None of them is a person one may change. */
  readonly areOthers = computed(
    () => !this.isAll() && [...this.picks().values()].every(({ ownerId }) => !this.user.mayChange(ownerId)),
  );
  readonly canStart = computed(() => this.count() <= mostStarted);
  readonly exportLink = computed(() => {
    const query = new URLSearchParams();
    const columns = this.view
      .columns()
      .map((column) => column.key)
      .join(',');
    for (const [key, value] of Object.entries({ ...this.view.query(), columns }))
      if (value) query.set(key, String(value));
    const ids = this.ids();
    if (ids.size > 0 && !this.isAll()) query.set('ids', [...ids].join(','));
    return `/api/contacts/export?${query.toString()}`;
  });

  has(row: ContactRow): boolean {
    return this.isAll() || this.ids().has(row.id);
  }

  toggle(row: ContactRow): void {
    const next = new Map(this.picks());
    if (!next.delete(row.id)) next.set(row.id, row);
    this.isAll.set(false);
    this.picks.set(next);
  }

  nobody(): void {
    this.picks.set(new Map());
    this.isAll.set(false);
  }

  async changeMany(): Promise<void> {
    if (this.count() === 0) return;
    if (this.areOthers()) {
      this.notices.say(othersPeople);
      return;
    }
    const { BulkDialog } = await import('./bulk-dialog');
    const { sort: _, group: __, ...query } = this.view.query();
    const selection: Selection | { query: object } = this.isAll()
      ? { query }
      : { ids: [...this.ids()] as never };
    this.dialog
      .open(BulkDialog, { data: { selection, count: this.count() }, width: '560px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((isDone: boolean | undefined) => {
        if (isDone) this.nobody();
      });
  }

  startCadence(): void {
    const ids$ = this.isAll() ? this.store.ids() : of([...this.ids()]);
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
        if (started) this.nobody();
      });
  }
}
