import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { ContactRow } from '@kettle/contract';
import { debounceTime, distinctUntilChanged } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { Empty, Failed, Waiting } from '../../kit/states';
import { Tether } from '../../kit/tether';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';
import { ViewsMenu } from '../views/index';
import { CellEditor } from './cell-editor';
import { CellEdits } from './cell-edits';
import { CellPipe } from './cell-text';
import { FilterBuilder } from './filter-builder';
import { PeopleHead } from './people-head';
import { PeopleTabs } from './people-tabs';
import { PeopleView } from './people-view';
import { type GridLine, PeopleStore } from './people.store';
import { PickedPeople } from './picked-people';

const settleMillis = 160;
const rowHeight = 36;

/** The grid of contacts: standings with due and all, search, filter, sort, group, edit in the cell, many at once. */
@Component({
  selector: 'kettle-people-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    fieldParts,
    MatCheckboxModule,
    MatButtonModule,
    CdkVirtualScrollViewport,
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    MatIcon,
    MatMenuModule,
    RouterLink,
    Tether,
    Empty,
    Failed,
    Waiting,
    CellPipe,
    CellEditor,
    FilterBuilder,
    PeopleHead,
    PeopleTabs,
    ViewsMenu,
  ],
  providers: [PeopleStore, PeopleView, PickedPeople, CellEdits],
  templateUrl: './people-page.html',
  styleUrl: './people-page.scss',
})
export class PeoplePage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  protected readonly store = inject(PeopleStore);
  protected readonly view = inject(PeopleView);
  protected readonly picked = inject(PickedPeople);
  protected readonly cells = inject(CellEdits);
  protected readonly words = inject(PeopleWords);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly q = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();
  readonly filter = input<string>();
  readonly owner = input<'mine' | 'unowned' | 'all'>();
  readonly standing = input<string>();
  readonly quiet = input<'yes'>();
  readonly archived = input<'yes'>();

  private readonly searchBox = viewChild<ElementRef<HTMLInputElement>>('search');
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly rowHeight = rowHeight;
  protected readonly owners = ['all', 'mine', 'unowned'] as const;
  protected readonly typed = linkedSignal(() => this.q() ?? '');

  constructor() {
    this.words.wake();
    this.view.follow(
      computed(() => ({
        q: this.q(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
        filter: this.filter(),
        owner: this.owner(),
        standing: this.standing(),
        quiet: this.quiet(),
        archived: this.archived(),
      })),
    );
    effect(() => {
      const query = this.view.query();
      untracked(() => {
        this.picked.isAll.set(false);
        this.store.show(query);
        this.viewport()?.scrollToIndex(0);
      });
    });
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.selected.setQuery({ q: words || null });
      });
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next person', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Person before', act: () => this.step(-1) },
      { keys: 'ArrowRight', words: 'Next column', act: () => this.cells.stepColumn(1) },
      { keys: 'ArrowLeft', words: 'Column before', act: () => this.cells.stepColumn(-1) },
      { keys: 'e', words: 'Edit the cell', act: () => this.withOpened((row) => this.cells.editRow(row)) },
      { keys: 'F2', words: 'Edit the cell', act: () => this.withOpened((row) => this.cells.editRow(row)) },
      { keys: 'x', words: 'Pick the person', act: () => this.withOpened((row) => this.picked.toggle(row)) },
      { keys: 'a', words: 'Add a person', act: () => void this.addPerson() },
      { keys: 'f', words: 'Search in this list', act: () => this.searchBox()?.nativeElement.select() },
      { keys: 'b', words: 'Change the picked ones', act: () => void this.picked.changeMany() },
    );
  }

  protected readonly byLine = (_: number, line: GridLine) =>
    line.kind === 'row' ? line.at : `g${line.group.key ?? ''}`;

  protected onScroll(first: number): void {
    const lines = this.store.lines();
    const height = this.viewport()?.getViewportSize() ?? 800;
    const seen = lines
      .slice(first, first + Math.ceil(height / rowHeight) + 10)
      .filter((line) => line.kind === 'row');
    const [from, to] = [seen[0], seen.at(-1)];
    if (from?.kind === 'row' && to?.kind === 'row') this.store.need(from.at, to.at);
  }

  protected showAll(): void {
    this.typed.set('');
    this.view.showAll();
  }

  protected showView(query: string): void {
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: Object.fromEntries(new URLSearchParams(query)),
    });
  }

  protected claim(row: ContactRow): void {
    const changeId = v7();
    this.api.call('claimContact', { params: { id: row.id } }, changeId).subscribe({
      next: (claimed) => {
        this.store.put(claimed);
        this.undo.offer(`${claimed.name} is yours.`, changeId, () => this.store.again());
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.store.again();
      },
    });
  }

  protected open(row: ContactRow): void {
    this.selected.open({ kind: 'contact', id: row.id });
  }

  protected async addPerson(): Promise<void> {
    const { ContactDialog } = await import('./contact-dialog');
    this.dialog
      .open(ContactDialog, { data: null, width: '640px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.selected.open({ kind: 'contact', id: made.id });
      });
  }

  private step(by: number): void {
    const lines = this.store.lines();
    const known = this.store.find(this.selected.record()?.id);
    let index = known ? lines.findIndex((line) => line.kind === 'row' && line.at === known.at) : -1;
    do index += by;
    while (lines[index]?.kind === 'group');
    const line = lines[Math.max(0, Math.min(lines.length - 1, index))];
    const row = line?.kind === 'row' ? this.store.row(line.at) : null;
    if (row === null) return;
    this.open(row);
    this.keepInSight(index);
  }

  private keepInSight(index: number): void {
    const viewport = this.viewport();
    if (!viewport) return;
    const top = viewport.measureScrollOffset();
    const size = viewport.getViewportSize();
    if (index * rowHeight < top) viewport.scrollToOffset(index * rowHeight);
    else if ((index + 1) * rowHeight > top + size) viewport.scrollToOffset((index + 1) * rowHeight - size);
  }

  private withOpened(act: (row: ContactRow) => void): void {
    const row = this.store.find(this.selected.record()?.id)?.row;
    if (row) act(row);
  }
}
