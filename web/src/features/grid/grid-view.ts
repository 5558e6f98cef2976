import { computed, inject, Injectable, linkedSignal, type Signal, signal } from '@angular/core';
import type { FilterGroup } from '@kettle/contract';
import { SelectedRecord } from '../../services/selected-record';
import {
  clampWidth,
  type Column,
  columnsOf,
  readSort,
  sayColumns,
  saySort,
  shownColumns,
  sortedBy,
} from './columns';
import { askedOnly } from './filter-builder';
import { type GridAddress, type GridQuery, type GridRow, GridSpec } from './grid-spec';

const noFilter: FilterGroup = { join: 'all', rules: [] };
/** What the address says of how a view looks, not of which rows it is. */
const looks = new Set(['cols', 'sort', 'group', 'as']);
const notGrouped = 'none';
/** Pixels between columns. */
const gap = 8;

/** Which rows are listed, in what order and in which columns: read from the address, and changed by changing it. */
@Injectable()
export class GridView<Row extends GridRow = GridRow> {
  private readonly spec = inject<GridSpec<Row>>(GridSpec);
  private readonly selected = inject(SelectedRecord);
  private readonly source = signal<Signal<GridAddress>>(signal({}));
  readonly address = computed(() => this.source()());

  readonly all = computed(() => columnsOf(this.spec.fields, this.spec.customFields(), this.spec.options()));
  readonly columns = computed(() => shownColumns(this.address()['cols'], this.all(), this.spec.usualColumns));
  /** Pixels there are for columns; null until it is known. */
  readonly room = signal<number | null>(null);
  /** The usual columns as far as there is room for them; columns that were chosen are all there, to be scrolled to. */
  readonly fitting = computed(() => {
    const [columns, room] = [this.columns(), this.room()];
    return this.address()['cols'] || room === null ? columns : columns.slice(0, howManyFit(columns, room));
  });
  /** Whether the view gives a column a width of its own. */
  hasWidth(key: string): boolean {
    return (this.address()['cols'] ?? '').split(',').some((part) => part.startsWith(`${key}:`));
  }

  private readonly notShown = computed(() =>
    this.all().filter(
      ({ key, isOnlyAsked }) => !isOnlyAsked && !this.columns().some((shown) => shown.key === key),
    ),
  );
  readonly hidden = computed(() => this.notShown().filter(({ isCounted }) => !isCounted));
  readonly hiddenCounted = computed(() => this.notShown().filter(({ isCounted }) => isCounted));
  readonly sorts = computed(() => readSort(this.address()['sort'] || this.spec.usualSort));
  readonly group = computed(() => {
    const asked = this.address()['group'] ?? this.spec.usualGroup;
    return asked === notGrouped ? null : asked;
  });
  readonly groupName = computed(() => this.all().find((column) => column.key === this.group())?.name ?? '');
  readonly groupings = computed(() => this.all().filter(({ canGroup }) => canGroup));
  /** Questions as they stand on screen, also the half-asked ones. */
  readonly questions = linkedSignal((): FilterGroup => readFilter(this.address()['filter']));
  readonly isFiltering = signal(false);
  /** Whether the person has narrowed it: what it shows by itself is no filter. */
  readonly hasFilter = computed(() =>
    Object.entries(this.address()).some(
      ([key, value]) =>
        Boolean(value) &&
        !looks.has(key) &&
        key !== this.spec.tabKey &&
        value !== this.spec.usual[key] &&
        value !== this.spec.everything[key],
    ),
  );
  /** What the server is asked. */
  readonly query = computed((): GridQuery => {
    const { cols: _, as: __, group: ___, ...query } = this.address();
    const group = this.group();
    return { ...this.spec.usual, ...known(query), ...(group !== null && { group }) };
  });
  /** The address without what is open: what a saved view keeps. */
  readonly saved = computed(() => new URLSearchParams(known(this.address())).toString());

  /** Takes the view from the page's inputs. */
  follow(address: Signal<GridAddress>): void {
    this.source.set(address);
  }

  sortBy(column: Column<Row>, isFurther: boolean): void {
    if (!column.canSort) return;
    const sort = saySort(sortedBy(this.sorts(), column.key, isFurther), this.spec.usualSort);
    this.selected.setQuery({ sort });
  }

  ariaSort(column: Column<Row>): 'ascending' | 'descending' | 'none' {
    const part = this.sorts().find((each) => each.field === column.key);
    return part === undefined ? 'none' : part.order === 'up' ? 'ascending' : 'descending';
  }

  /** Which of several sorts a column is, from 1; empty when it is the only one. */
  sortPlace(column: Column<Row>): string {
    const at = this.sorts().findIndex((part) => part.field === column.key);
    return at >= 0 && this.sorts().length > 1 ? String(at + 1) : '';
  }

  groupBy(key: string | null): void {
    const said = key === null && this.spec.usualGroup !== null ? notGrouped : key;
    this.selected.setQuery({ group: said === this.spec.usualGroup ? null : said });
  }

  moveColumn(from: number, to: number): void {
    const columns = [...this.columns()];
    if (to < 0 || to >= columns.length) return;
    columns.splice(to, 0, ...columns.splice(from, 1));
    this.putColumns(columns);
  }

  widen(column: Column<Row>, by: number): void {
    this.putColumns(
      this.columns().map((each) =>
        each.key === column.key ? { ...each, width: clampWidth(each.width + by) } : each,
      ),
    );
  }

  hide(column: Column<Row>): void {
    this.putColumns(this.columns().filter((each) => each.key !== column.key));
  }

  show(column: Column<Row>): void {
    this.putColumns([...this.columns(), column]);
  }

  private putColumns(columns: readonly Column<Row>[]): void {
    this.selected.setQuery({ cols: sayColumns(columns, this.all(), this.spec.usualColumns) });
  }

  ask(questions: FilterGroup): void {
    this.questions.set(questions);
    const asked = askedOnly(questions);
    const text = asked.rules.length > 0 ? JSON.stringify(asked) : null;
    // The address follows the asked questions; those on screen stay as they are being written.
    if (text !== (this.address()['filter'] ?? null)) {
      this.selected.setQuery({ filter: text });
      queueMicrotask(() => this.questions.set(questions));
    }
  }

  openFilter(): void {
    this.isFiltering.update((isOpen) => !isOpen);
    if (this.isFiltering() && this.questions().rules.length === 0)
      this.questions.set({ join: 'all', rules: [{ field: this.spec.nameKey, ask: 'has' }] });
  }

  /** Everything, as if nobody had asked for anything: no filter, order, groups or columns of one's own. */
  startOver(): void {
    const keys = Object.keys(this.address()).filter((key) => key !== this.spec.tabKey);
    this.questions.set(noFilter);
    this.isFiltering.set(false);
    this.selected.setQuery({
      ...Object.fromEntries(keys.map((key) => [key, null])),
      ...this.spec.everything,
    });
  }

  showAll(): void {
    this.questions.set(noFilter);
    this.isFiltering.set(false);
    this.selected.setQuery({ q: null, filter: null, ...this.spec.everything });
  }
}

/** How many of some columns fit beside each other, two at least. */
function howManyFit(columns: readonly { readonly width: number }[], room: number): number {
  let taken = 0;
  const count = columns.findIndex(({ width }) => (taken += width + gap) > room);
  return count < 0 ? columns.length : Math.max(2, count);
}

const known = (address: GridAddress): Record<string, string> =>
  Object.fromEntries(Object.entries(address).filter((part): part is [string, string] => Boolean(part[1])));

function readFilter(text: string | undefined): FilterGroup {
  if (!text) return noFilter;
  try {
    const read = JSON.parse(text) as FilterGroup;
    return Array.isArray(read.rules) ? read : noFilter;
  } catch {
    return noFilter;
  }
}
