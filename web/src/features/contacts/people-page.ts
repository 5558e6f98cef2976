import { CdkDrag, type CdkDragDrop, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
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
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { CellValue, ContactRow, FilterGroup, Selection } from '@kettle/contract';
import { debounceTime, distinctUntilChanged, firstValueFrom, of } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { Empty, Failed, Waiting } from '../../kit/states';
import { Tether } from '../../kit/tether';
import { Here } from '../../services/here';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { Opened } from '../../services/opened';
import { ViewsMenu } from '../views/index';
import { CellEditor, type EditEnd } from './cell-editor';
import { CellPipe } from './cell-text';
import { askedOnly, FilterBuilder } from './filter-builder';
import {
  allColumns,
  clampWidth,
  type Column,
  readSort,
  sayColumns,
  saySort,
  shownColumns,
  sortedBy,
} from './grid-columns';
import { PeopleTabs } from './people-tabs';
import { PeopleWords } from '../fields/index';
import { type GridLine, PeopleStore } from './people.store';

const settleMillis = 160;
const rowHeight = 36;
const widthStep = 30;
/** A start shows the dates of everybody; more go by a change of many. */
const mostStarted = 500;
const noFilter: FilterGroup = { join: 'all', rules: [] };

/** The grid of contacts: standings with due and all, search, filter, sort, group, edit in the cell, many at once. */
@Component({
  selector: 'kettle-people-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkVirtualScrollViewport,
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkDropList,
    CdkDrag,
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
    PeopleTabs,
    ViewsMenu,
  ],
  providers: [PeopleStore],
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
  protected readonly words = inject(PeopleWords);
  protected readonly here = inject(Here);
  protected readonly opened = inject(Opened);

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
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  /** Everybody the view finds is meant, not only who was picked one by one. */
  protected readonly isAllPicked = signal(false);
  protected readonly mostStarted = mostStarted;
  protected readonly isFiltering = signal(false);
  protected readonly all = computed(() => allColumns(this.words.contactFields()));
  protected readonly columns = computed(() => shownColumns(this.cols(), this.all()));
  protected readonly hidden = computed(() =>
    this.all().filter((column) => !this.columns().some((shown) => shown.key === column.key)),
  );
  protected readonly sorts = computed(() => readSort(this.sort()));
  /** Questions as they stand on screen, also the half-asked ones. */
  protected readonly questions = linkedSignal((): FilterGroup => readFilter(this.filter()));
  protected readonly template = computed(
    () =>
      `24px ${this.columns()
        .map((column) => `${column.width}px`)
        .join(' ')} minmax(0, 1fr)`,
  );
  protected readonly hasFilter = computed(() =>
    Boolean(
      this.q() || this.standing() || this.quiet() || this.filter() || (this.owner() ?? 'all') !== 'all',
    ),
  );
  protected readonly pickedCount = computed(() =>
    this.isAllPicked() ? (this.store.count()?.found ?? 0) : this.picked().size,
  );
  protected readonly canStart = computed(() => this.pickedCount() <= mostStarted);
  /** The column the keyboard stands on, and the cell being edited. */
  protected readonly at = signal(0);
  protected readonly editing = signal<{ id: string; key: string } | null>(null);
  protected readonly cellProblem = signal<string | null>(null);
  protected readonly exportLink = computed(() => {
    const query = new URLSearchParams();
    const ids = this.picked();
    const parts = {
      ...this.query(),
      columns: this.columns()
        .map((column) => column.key)
        .join(','),
    };
    for (const [key, value] of Object.entries(parts)) if (value) query.set(key, String(value));
    if (ids.size > 0 && !this.isAllPicked()) query.set('ids', [...ids].join(','));
    return `/api/contacts/export?${query.toString()}`;
  });
  private readonly query = computed(() => ({
    q: this.q(),
    sort: this.sort(),
    group: this.group(),
    filter: this.filter(),
    owner: this.owner(),
    standing: this.standing(),
    quiet: this.quiet(),
    archived: this.archived(),
  }));

  constructor() {
    this.words.wake();
    effect(() => {
      const query = this.query();
      untracked(() => {
        this.isAllPicked.set(false);
        this.store.show(query);
        this.viewport()?.scrollToIndex(0);
      });
    });
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.opened.setQuery({ q: words || null });
      });
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next person', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Person before', act: () => this.step(-1) },
      { keys: 'ArrowRight', words: 'Next column', act: () => this.stepColumn(1) },
      { keys: 'ArrowLeft', words: 'Column before', act: () => this.stepColumn(-1) },
      { keys: 'e', words: 'Edit the cell', act: () => this.editOpened() },
      { keys: 'F2', words: 'Edit the cell', act: () => this.editOpened() },
      { keys: 'x', words: 'Pick the person', act: () => this.pickOpened() },
      { keys: 'a', words: 'Add a person', act: () => void this.addPerson() },
      { keys: 'f', words: 'Search in this list', act: () => this.searchBox()?.nativeElement.select() },
      { keys: 'b', words: 'Change the picked ones', act: () => void this.changeMany() },
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

  // Sorting, grouping, columns

  protected sortBy(column: Column, isFurther: boolean): void {
    if (column.canSort)
      this.opened.setQuery({ sort: saySort(sortedBy(this.sorts(), column.key, isFurther)) });
  }

  protected ariaSort(column: Column): 'ascending' | 'descending' | 'none' {
    const part = this.sorts().find((each) => each.field === column.key);
    return part === undefined ? 'none' : part.order === 'up' ? 'ascending' : 'descending';
  }

  protected sortPlace(column: Column): string {
    const at = this.sorts().findIndex((part) => part.field === column.key);
    return at >= 0 && this.sorts().length > 1 ? String(at + 1) : '';
  }

  protected groupBy(key: string | null): void {
    this.opened.setQuery({ group: key });
  }

  protected groupName = computed(() => this.all().find((column) => column.key === this.group())?.name ?? '');

  protected dropColumn(event: CdkDragDrop<unknown>): void {
    this.moveColumn(event.previousIndex, event.currentIndex);
  }

  protected moveColumn(from: number, to: number): void {
    const columns = [...this.columns()];
    if (to < 0 || to >= columns.length) return;
    moveItemInArray(columns, from, to);
    this.putColumns(columns);
  }

  protected widen(column: Column, by: number): void {
    this.putColumns(
      this.columns().map((each) =>
        each.key === column.key ? { ...each, width: clampWidth(each.width + by) } : each,
      ),
    );
  }

  protected readonly widthStep = widthStep;

  protected hide(column: Column): void {
    this.putColumns(this.columns().filter((each) => each.key !== column.key));
  }

  protected show(column: Column): void {
    this.putColumns([...this.columns(), column]);
  }

  /** Follows the pointer from the edge of a column's head until it is let go. */
  protected resize(event: PointerEvent, column: Column): void {
    event.preventDefault();
    event.stopPropagation();
    const start = event.clientX;
    const handle = event.target as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    const end = (last: PointerEvent) => {
      handle.removeEventListener('pointerup', end);
      this.widen(column, last.clientX - start);
    };
    handle.addEventListener('pointerup', end);
  }

  private putColumns(columns: readonly Column[]): void {
    this.opened.setQuery({ cols: sayColumns(columns, this.all()) });
  }

  // Filter

  protected ask(questions: FilterGroup): void {
    this.questions.set(questions);
    const asked = askedOnly(questions);
    const text = asked.rules.length > 0 ? JSON.stringify(asked) : null;
    // The address follows the asked questions; those on screen stay as they are being written.
    if (text !== (this.filter() ?? null)) {
      this.opened.setQuery({ filter: text });
      queueMicrotask(() => this.questions.set(questions));
    }
  }

  protected openFilter(): void {
    this.isFiltering.update((isOpen) => !isOpen);
    if (this.isFiltering() && this.questions().rules.length === 0)
      this.questions.set({ join: 'all', rules: [{ field: 'name', ask: 'has' }] });
  }

  protected showAll(): void {
    this.typed.set('');
    this.questions.set(noFilter);
    this.isFiltering.set(false);
    this.opened.setQuery({ q: null, standing: null, quiet: null, owner: null, filter: null });
  }

  protected chooseStanding(id: string): void {
    this.opened.setQuery({ standing: this.standing() === id ? null : id });
  }

  /** The address without what is open: what a saved view keeps. */
  protected readonly viewQuery = computed(() => {
    const query = new URLSearchParams();
    const parts = { ...this.query(), cols: this.cols() };
    for (const [key, value] of Object.entries(parts)) if (value) query.set(key, value);
    return query.toString();
  });

  protected showView(query: string): void {
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: Object.fromEntries(new URLSearchParams(query)),
    });
  }

  // Cells

  protected edit(row: ContactRow, column: Column): void {
    if (column.cell === null || column.type === 'person') return;
    this.cellProblem.set(null);
    this.at.set(this.columns().indexOf(column));
    this.editing.set({ id: row.id, key: column.key });
  }

  protected isEditing(row: ContactRow, column: Column): boolean {
    const cell = this.editing();
    return cell !== null && cell.id === row.id && cell.key === column.key;
  }

  protected async saveCell(row: ContactRow, column: Column, value: CellValue, end: EditEnd): Promise<void> {
    const before = cellValue(row, column);
    const isSame = JSON.stringify(before) === JSON.stringify(value);
    if (!isSame && !(await this.writeCell(row, column, value))) return;
    this.editing.set(null);
    if (end === 'next') this.editNext(row, column);
  }

  private async writeCell(row: ContactRow, column: Column, value: CellValue): Promise<boolean> {
    const changeId = v7();
    const call = { params: { id: row.id }, body: { version: row.version, field: column.cell!, value } };
    try {
      const changed = await firstValueFrom(this.api.call('changeCell', call, changeId));
      this.store.put(changed);
      this.undo.offer(`${changed.name}: ${column.name} changed.`, changeId, () => this.store.again());
      return true;
    } catch (error) {
      const problem = problemOf(error);
      this.cellProblem.set(problem.fields[0]?.message ?? problem.message);
      if (problem.code === 'stale') this.store.again();
      if (problem.fields.length === 0) this.notices.problem(problem);
      else this.notices.say(`${column.name} ${problem.fields[0]!.message}.`);
      return false;
    }
  }

  private editNext(row: ContactRow, column: Column): void {
    const columns = this.columns();
    const next = columns.slice(columns.indexOf(column) + 1).find((each) => each.cell !== null);
    const now = this.store.find(row.id)?.row;
    if (next && now) this.edit(now, next);
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

  // Picking, many at once

  protected toggle(row: ContactRow): void {
    const next = new Set(this.picked());
    if (!next.delete(row.id)) next.add(row.id);
    this.isAllPicked.set(false);
    this.picked.set(next);
  }

  protected pickNobody(): void {
    this.picked.set(new Set());
    this.isAllPicked.set(false);
  }

  protected async changeMany(): Promise<void> {
    if (this.pickedCount() === 0) return;
    const { BulkDialog } = await import('./bulk-dialog');
    const { sort: _, group: __, filter, ...rest } = this.query();
    const selection: Selection | { query: object } = this.isAllPicked()
      ? { query: { ...rest, filter } }
      : { ids: [...this.picked()] as never };
    this.dialog
      .open(BulkDialog, { data: { selection, count: this.pickedCount() }, width: '560px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((isDone: boolean | undefined) => {
        if (isDone) this.pickNobody();
      });
  }

  protected startCadence(): void {
    const ids$ = this.isAllPicked() ? this.store.ids() : of([...this.picked()]);
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
        if (started) this.pickNobody();
      });
  }

  protected open(row: ContactRow): void {
    this.opened.open({ kind: 'contact', id: row.id });
  }

  protected async addPerson(): Promise<void> {
    const { ContactDialog } = await import('./contact-dialog');
    this.dialog
      .open(ContactDialog, { data: null, width: '640px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.opened.open({ kind: 'contact', id: made.id });
      });
  }

  private step(by: number): void {
    const lines = this.store.lines();
    const known = this.store.find(this.opened.record()?.id);
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

  private stepColumn(by: number): void {
    this.at.update((at) => Math.max(0, Math.min(this.columns().length - 1, at + by)));
  }

  private editOpened(): void {
    const row = this.store.find(this.opened.record()?.id)?.row;
    const columns = this.columns();
    const column = columns[this.at()]?.cell ? columns[this.at()] : columns.find((each) => each.cell !== null);
    if (row && column) this.edit(row, column);
  }

  private pickOpened(): void {
    const row = this.store.find(this.opened.record()?.id)?.row;
    if (row) this.toggle(row);
  }
}

function cellValue(row: ContactRow, column: Column): CellValue {
  if (column.cell?.startsWith('custom:')) return row.custom[column.cell.slice('custom:'.length)] ?? null;
  return row[column.cell as 'email'] ?? null;
}

function readFilter(text: string | undefined): FilterGroup {
  if (!text) return noFilter;
  try {
    const read = JSON.parse(text) as FilterGroup;
    return Array.isArray(read.rules) ? read : noFilter;
  } catch {
    return noFilter;
  }
}
