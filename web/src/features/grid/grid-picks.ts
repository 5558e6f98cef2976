import { computed, inject, Injectable, signal } from '@angular/core';
import type { ListFile } from '@kettle/contract/base/list-files';
import { CurrentUser } from '../../services/current-user';
import { type GridRow, GridSpec } from './grid-spec';
import { GridStore } from './grid-store';
import { GridView } from './grid-view';

/** Which rows are picked in the list. */
@Injectable()
export class GridPicks<Row extends GridRow = GridRow> {
  private readonly spec = inject<GridSpec<Row>>(GridSpec);
  private readonly store = inject<GridStore<Row>>(GridStore);
  private readonly view = inject<GridView<Row>>(GridView);
  private readonly user = inject(CurrentUser);
  private readonly picks = signal<ReadonlyMap<string, Row>>(new Map());
  readonly ids = computed<ReadonlySet<string>>(() => new Set(this.picks().keys()));
  readonly rows = computed(() => [...this.picks().values()]);
  /** Everything the view finds is meant, not only what was picked one by one. */
  readonly isAll = signal(false);
  readonly count = computed(() => (this.isAll() ? this.store.found() : this.ids().size));
  /** None of them is a row one may change. */
  readonly areOthers = computed(
    () =>
      !this.isAll() &&
      this.rows().length > 0 &&
      this.rows().every(
        (row) => !(this.spec.mayChange(row) ?? this.user.mayChange(this.spec.ownerOf(row).id)),
      ),
  );
  /** Where the view is to be had as a file, or the picked rows of it. */
  readonly exportLink = computed(() => (as: ListFile) => {
    const query = new URLSearchParams();
    const columns = this.view
      .columns()
      .map(({ key }) => key)
      .join(',');
    const { group: _, ...asked } = this.view.query();
    for (const [key, value] of Object.entries({ ...asked, as, columns })) if (value) query.set(key, value);
    if (this.ids().size > 0 && !this.isAll()) query.set('ids', [...this.ids()].join(','));
    return `${this.spec.exportPath}?${query.toString()}`;
  });

  has(row: Row): boolean {
    return this.isAll() || this.ids().has(row.id);
  }

  toggle(row: Row): void {
    const next = new Map(this.picks());
    if (!next.delete(row.id)) next.set(row.id, row);
    this.isAll.set(false);
    this.picks.set(next);
  }

  none(): void {
    this.picks.set(new Map());
    this.isAll.set(false);
  }
}
