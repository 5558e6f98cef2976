import { computed, inject, Injectable, linkedSignal, type Signal, signal } from '@angular/core';
import type { FilterGroup } from '@kettle/contract';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { askedOnly } from './filter-builder';
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

/** The view of the list as the address carries it. */
export interface PeopleAddress {
  readonly q?: string | undefined;
  readonly sort?: string | undefined;
  readonly group?: string | undefined;
  readonly cols?: string | undefined;
  readonly filter?: string | undefined;
  readonly owner?: 'mine' | 'unowned' | 'all' | undefined;
  readonly standing?: string | undefined;
  readonly quiet?: 'yes' | undefined;
  readonly archived?: 'yes' | undefined;
}

const noFilter: FilterGroup = { join: 'all', rules: [] };

/** Which people are listed, in what order and in which columns: read from the address, and changed by changing it. */
@Injectable()
export class PeopleView {
  private readonly selected = inject(SelectedRecord);
  private readonly words = inject(PeopleWords);
  private readonly source = signal<Signal<PeopleAddress>>(signal({}));
  readonly address = computed(() => this.source()());

  readonly all = computed(() => allColumns(this.words.contactFields()));
  readonly columns = computed(() => shownColumns(this.address().cols, this.all()));
  readonly hidden = computed(() =>
    this.all().filter((column) => !this.columns().some((shown) => shown.key === column.key)),
  );
  readonly template = computed(
    () =>
      `24px ${this.columns()
        .map((column) => `${column.width}px`)
        .join(' ')} minmax(0, 1fr)`,
  );
  readonly sorts = computed(() => readSort(this.address().sort));
  readonly groupName = computed(
    () => this.all().find((column) => column.key === this.address().group)?.name ?? '',
  );
  /** Questions as they stand on screen, also the half-asked ones. */
  readonly questions = linkedSignal((): FilterGroup => readFilter(this.address().filter));
  readonly isFiltering = signal(false);
  readonly hasFilter = computed(() => {
    const { q, standing, quiet, filter, owner } = this.address();
    return Boolean(q || standing || quiet || filter || (owner ?? 'all') !== 'all');
  });
  /** What the server is asked. */
  readonly query = computed(() => {
    const { cols: _, ...query } = this.address();
    return query;
  });
  /** The address without what is open: what a saved view keeps. */
  readonly saved = computed(() => {
    const query = new URLSearchParams();
    for (const [key, value] of Object.entries(this.address())) if (value) query.set(key, String(value));
    return query.toString();
  });

  /** Takes the view from the page's inputs. */
  follow(address: Signal<PeopleAddress>): void {
    this.source.set(address);
  }

  sortBy(column: Column, isFurther: boolean): void {
    if (column.canSort)
      this.selected.setQuery({ sort: saySort(sortedBy(this.sorts(), column.key, isFurther)) });
  }

  ariaSort(column: Column): 'ascending' | 'descending' | 'none' {
    const part = this.sorts().find((each) => each.field === column.key);
    return part === undefined ? 'none' : part.order === 'up' ? 'ascending' : 'descending';
  }

  /** Which of several sorts a column is, from 1; empty when it is the only one. */
  sortPlace(column: Column): string {
    const at = this.sorts().findIndex((part) => part.field === column.key);
    return at >= 0 && this.sorts().length > 1 ? String(at + 1) : '';
  }

  groupBy(key: string | null): void {
    this.selected.setQuery({ group: key });
  }

  moveColumn(from: number, to: number): void {
    const columns = [...this.columns()];
    if (to < 0 || to >= columns.length) return;
    columns.splice(to, 0, ...columns.splice(from, 1));
    this.putColumns(columns);
  }

  widen(column: Column, by: number): void {
    this.putColumns(
      this.columns().map((each) =>
        each.key === column.key ? { ...each, width: clampWidth(each.width + by) } : each,
      ),
    );
  }

  hide(column: Column): void {
    this.putColumns(this.columns().filter((each) => each.key !== column.key));
  }

  show(column: Column): void {
    this.putColumns([...this.columns(), column]);
  }

  private putColumns(columns: readonly Column[]): void {
    this.selected.setQuery({ cols: sayColumns(columns, this.all()) });
  }

  ask(questions: FilterGroup): void {
    this.questions.set(questions);
    const asked = askedOnly(questions);
    const text = asked.rules.length > 0 ? JSON.stringify(asked) : null;
    // The address follows the asked questions; those on screen stay as they are being written.
    if (text !== (this.address().filter ?? null)) {
      this.selected.setQuery({ filter: text });
      queueMicrotask(() => this.questions.set(questions));
    }
  }

  openFilter(): void {
    this.isFiltering.update((isOpen) => !isOpen);
    if (this.isFiltering() && this.questions().rules.length === 0)
      this.questions.set({ join: 'all', rules: [{ field: 'name', ask: 'has' }] });
  }

  showAll(): void {
    this.questions.set(noFilter);
    this.isFiltering.set(false);
    this.selected.setQuery({ q: null, standing: null, quiet: null, owner: null, filter: null });
  }

  chooseStanding(id: string): void {
    this.selected.setQuery({ standing: this.address().standing === id ? null : id });
  }
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
