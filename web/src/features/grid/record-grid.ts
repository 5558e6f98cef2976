import { BreakpointObserver } from '@angular/cdk/layout';
import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  contentChild,
  contentChildren,
  DestroyRef,
  Directive,
  ElementRef,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  TemplateRef,
  untracked,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import { map } from 'rxjs';
import { Pick } from '../../kit/pick';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { SelectedRecord } from '../../services/selected-record';
import { CellEditor } from './cell-editor';
import { CellEdits } from './cell-edits';
import { CellPipe } from './cell-text';
import { type Column, isNumber } from './columns';
import { GridHead } from './grid-head';
import { GridPicks } from './grid-picks';
import { type GridRow, GridSpec } from './grid-spec';
import { type GridLine, GridStore } from './grid-store';
import { GridView } from './grid-view';

const rowHeight = 36;
/** Two lines, each as high as a thumb needs. */
const phoneRowHeight = 58;
/** What stands before the columns: the box to pick a row. */
const pickWidth = 40;
const narrow = '(width < 700px)';

/**
 * What a cell shows where its text alone is not enough.
 * @example <ng-template kettleCell="owner" let-row>…</ng-template>
 */
@Directive({ selector: 'ng-template[kettleCell]' })
export class CellTemplate {
  readonly kettleCell = input.required<string>();
  readonly template = inject<TemplateRef<{ $implicit: GridRow }>>(TemplateRef);
}

/** Acts at the end of each row. */
@Directive({ selector: 'ng-template[kettleRowActs]' })
export class RowActs {
  readonly template = inject<TemplateRef<{ $implicit: GridRow }>>(TemplateRef);
}

/**
 * The rows of a list: sorted by heads, edited in the cell, picked, grouped, with totals; by mouse and by keys, and in two lines on a phone.
 * What they are of is said by the `GridSpec` provided around it.
 */
@Component({
  selector: 'kettle-record-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkVirtualScrollViewport,
    CellEditor,
    CellPipe,
    GridHead,
    MatCheckboxModule,
    MatIcon,
    NgTemplateOutlet,
    Pick,
    RouterLink,
  ],
  providers: [CellPipe],
  templateUrl: './record-grid.html',
  styleUrl: './record-grid.scss',
  host: { '[class.two-lines]': 'isNarrow()' },
})
export class RecordGrid<Row extends GridRow> {
  protected readonly texts = {
    pick: (row: string | number) => $localize`Pick ${row}:row:`,
  };

  protected readonly spec = inject<GridSpec<Row>>(GridSpec);
  protected readonly store = inject<GridStore<Row>>(GridStore);
  protected readonly view = inject<GridView<Row>>(GridView);
  protected readonly picks = inject<GridPicks<Row>>(GridPicks);
  protected readonly cells = inject<CellEdits<Row>>(CellEdits);
  protected readonly user = inject(CurrentUser);
  private readonly selected = inject(SelectedRecord);
  private readonly say = inject(CellPipe);

  /** The row the keyboard is on; left out, it is the one that is open beside the list. */
  readonly current = input<string | null>();
  /** Width of the acts at the end of a row. */
  readonly actsWidth = input(0);
  readonly opened = output<Row>();

  private readonly cellTemplates = contentChildren(CellTemplate);
  protected readonly acts = contentChild(RowActs);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly isNarrow = toSignal(
    inject(BreakpointObserver)
      .observe(narrow)
      .pipe(map(({ matches }) => matches)),
    { initialValue: false },
  );
  protected readonly rowHeight = computed(() => (this.isNarrow() ? phoneRowHeight : rowHeight));
  protected readonly at = linkedSignal(() => this.current() ?? this.selected.record()?.id ?? null);
  protected readonly template = computed(() => {
    const columns = this.view.fitting();
    // What is left over is the name's, unless somebody gave it a width.
    const grows =
      columns.some(({ key }) => key === this.spec.nameKey) && !this.view.hasWidth(this.spec.nameKey);
    const widths = columns.map(({ key, width }) =>
      grows && key === this.spec.nameKey ? `minmax(${width}px, 1fr)` : `${width}px`,
    );
    const acts = grows ? `${this.actsWidth()}px` : `minmax(${this.actsWidth()}px, 1fr)`;
    return `24px ${widths.join(' ')} ${acts}`;
  });
  /** On a phone: beside the name, then in the second line. */
  protected readonly phoneColumns = computed(() =>
    this.spec.phoneKeys.flatMap((key) => this.view.all().find((column) => column.key === key) ?? []),
  );
  protected readonly nameColumn = computed(() =>
    this.view.all().find(({ key }) => key === this.spec.nameKey)!,
  );
  protected readonly sums = computed(() => {
    const { sums = {} } = this.store.count() ?? {};
    return this.view.all().flatMap((column) => {
      const sum = column.isSummed ? sums[column.key] : undefined;
      return sum === undefined ? [] : [{ column, words: this.say.sum(sum, column) }];
    });
  });

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const watcher = new ResizeObserver(() =>
      this.view.room.set(host.clientWidth - pickWidth - this.actsWidth()),
    );
    watcher.observe(host);
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
    effect(() => {
      this.view.query();
      untracked(() => this.viewport()?.scrollToIndex(0));
    });
    const { one } = this.spec.words;
    inject(Keys).bind(
      { keys: 'ArrowDown', words: $localize`Next ${one}`, act: () => this.step(1) },
      { keys: 'ArrowUp', words: $localize`Previous ${one}`, act: () => this.step(-1) },
      { keys: 'ArrowRight', words: $localize`Next column`, act: () => this.cells.stepColumn(1) },
      { keys: 'ArrowLeft', words: $localize`Previous column`, act: () => this.cells.stepColumn(-1) },
      {
        keys: 'e',
        words: $localize`Edit the cell`,
        act: () => this.withCurrent((row) => this.cells.editRow(row)),
      },
      {
        keys: 'F2',
        words: $localize`Edit the cell`,
        act: () => this.withCurrent((row) => this.cells.editRow(row)),
      },
      {
        keys: 'i',
        words: $localize`Pick the ${one}`,
        act: () => this.withCurrent((row) => this.picks.toggle(row)),
      },
    );
  }

  protected readonly byLine = (_: number, line: GridLine) =>
    line.kind === 'row' ? line.at : `g${line.group.key ?? ''}`;

  protected templateOf(key: string) {
    return this.cellTemplates().find((each) => each.kettleCell() === key)?.template ?? null;
  }

  protected readonly hasTotals = computed(
    () =>
      this.store.found() > 1 &&
      this.sums().length > 0 &&
      (this.isNarrow() || this.view.fitting().some(({ isSummed }) => isSummed)),
  );

  protected readonly isNumber = isNumber;

  protected sumOf(column: Column<Row>): string {
    return this.sums().find((sum) => sum.column.key === column.key)?.words ?? '';
  }

  protected groupSums(sums: Readonly<Record<string, number>>): string {
    return this.sums()
      .map(({ column }) => `${column.name} ${this.say.sum(sums[column.key] ?? 0, column)}`)
      .join(' · ');
  }

  protected onScroll(first: number): void {
    const lines = this.store.lines();
    const height = this.viewport()?.getViewportSize() ?? 800;
    const seen = lines
      .slice(first, first + Math.ceil(height / this.rowHeight()) + 10)
      .filter((line) => line.kind === 'row');
    const [from, to] = [seen[0], seen.at(-1)];
    if (from?.kind === 'row' && to?.kind === 'row') this.store.need(from.at, to.at);
  }

  protected open(row: Row): void {
    this.at.set(row.id);
    const record = this.spec.recordOf(row);
    if (record !== null) this.selected.open(record);
    this.opened.emit(row);
  }

  private step(by: number): void {
    const lines = this.store.lines();
    const known = this.store.find(this.at());
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
    const height = this.rowHeight();
    const top = viewport.measureScrollOffset();
    const size = viewport.getViewportSize();
    if (index * height < top) viewport.scrollToOffset(index * height);
    else if ((index + 1) * height > top + size) viewport.scrollToOffset((index + 1) * height - size);
  }

  private withCurrent(act: (row: Row) => void): void {
    const row = this.store.find(this.at())?.row;
    if (row) act(row);
  }
}
