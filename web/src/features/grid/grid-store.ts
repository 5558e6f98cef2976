import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { GridCount } from '@kettle/contract';
import {
  catchError,
  debounceTime,
  EMPTY,
  expand,
  forkJoin,
  map,
  merge,
  type Observable,
  of,
  reduce,
  Subject,
  switchMap,
} from 'rxjs';
import { type ApiProblem, problemOf } from '../../api/api';
import { ChangeStream } from '../../services/change-stream';
import { type GridQuery, type GridRow, GridSpec } from './grid-spec';

/** One line of the grid: a row by its place in the list, or the head of a group. */
export type GridLine =
  | { readonly kind: 'row'; readonly at: number }
  | { readonly kind: 'group'; readonly group: GridCount['groups'][number]; readonly isOpen: boolean };

const pageRows = 100;
/** Pages kept around what is on screen; the rest is read again when it is scrolled to. */
const pagesKept = 12;
const settleMillis = 60;

interface Asked {
  readonly query: GridQuery;
  readonly pages: readonly number[];
}

/** A list: counted at once, its rows read by pages wherever the screen stands. */
@Injectable()
export class GridStore<Row extends GridRow = GridRow> {
  private readonly spec = inject<GridSpec<Row>>(GridSpec);
  private readonly query = signal<GridQuery>({});
  private readonly pages = signal<ReadonlyMap<number, readonly Row[]>>(new Map());
  private readonly counted = signal<GridCount | null>(null);
  private readonly folded = signal<ReadonlySet<string | null>>(new Set());
  private readonly failed = signal<ApiProblem | null>(null);
  private readonly asked = new Subject<Asked>();
  private readonly scrolled = new Subject<readonly number[]>();
  private readonly reading = new Set<number>();
  private shown: readonly number[] = [0];
  private withCounted = true;

  readonly problem = this.failed.asReadonly();
  readonly count = this.counted.asReadonly();
  readonly found = computed(() => this.counted()?.found ?? 0);
  readonly hidden = computed(() => Math.max(0, (this.counted()?.total ?? 0) - this.found()));
  readonly isReady = computed(() => this.counted() !== null && this.pages().size > 0);
  /** Rows that have been read, in their order. */
  readonly known = computed(() =>
    [...this.pages()].sort(([one], [other]) => one - other).flatMap(([, rows]) => rows),
  );

  /** Lines in their order; a folded group keeps its head alone. */
  readonly lines = computed((): readonly GridLine[] => {
    const groups = this.counted()?.groups ?? [];
    if (groups.length === 0) return Array.from({ length: this.found() }, (_, at) => ({ kind: 'row', at }));
    const folded = this.folded();
    const lines: GridLine[] = [];
    let at = 0;
    for (const group of groups) {
      const isOpen = !folded.has(group.key);
      lines.push({ kind: 'group', group, isOpen });
      if (isOpen) for (let n = 0; n < group.count; n += 1) lines.push({ kind: 'row', at: at + n });
      at += group.count;
    }
    return lines;
  });

  constructor() {
    this.asked
      .pipe(
        switchMap(({ query, pages }) => this.readWhole(query, pages)),
        takeUntilDestroyed(),
      )
      .subscribe();
    this.scrolled
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe((pages) => this.readMissing(pages));
    const stream = inject(ChangeStream);
    const { topics } = this.spec;
    // One's own changes and those of rows that are here are seen at once; what others change elsewhere is counted now and then.
    merge(
      stream.mine(...topics),
      stream.about(() => this.known().map(({ id }) => id), ...topics),
    )
      .pipe(debounceTime(0), takeUntilDestroyed())
      .subscribe(() => this.again());
    stream
      .elsewhere(...topics)
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.recount());
  }

  /** @param withCounted whether a column shows what is counted of a record */
  show(query: GridQuery, withCounted = true): void {
    this.withCounted = withCounted;
    this.query.set(query);
    this.shown = [0];
    this.asked.next({ query, pages: [0] });
  }

  again(): void {
    this.asked.next({ query: this.query(), pages: this.shown });
  }

  /** When there are more or fewer than before, the list is read again. */
  private recount(): void {
    const { sort: _, ...which } = this.query();
    const query = this.query();
    this.spec.count(which).subscribe({
      next: (now) => {
        if (query !== this.query()) return;
        const was = this.counted();
        if (now.found !== was?.found) this.again();
        else this.counted.set(now);
      },
      // The rows say it when the server is away.
      error: () => undefined,
    });
  }

  /** The row at a place of the list, or null while it is read. */
  row(at: number): Row | null {
    return this.pages().get(Math.floor(at / pageRows))?.[at % pageRows] ?? null;
  }

  find(id: string | null | undefined): { row: Row; at: number } | null {
    for (const [page, rows] of this.pages()) {
      const index = rows.findIndex((row) => row.id === id);
      if (index >= 0) return { row: rows[index]!, at: page * pageRows + index };
    }
    return null;
  }

  /** Says which places of the list are on screen. */
  need(from: number, to: number): void {
    const last = Math.max(0, Math.ceil(Math.max(1, this.found()) / pageRows) - 1);
    const first = Math.max(0, Math.floor(from / pageRows));
    const end = Math.min(last, Math.floor(to / pageRows));
    this.shown = Array.from({ length: Math.max(1, end - first + 1) }, (_, index) => first + index);
    this.scrolled.next(this.shown);
  }

  fold(key: string | null): void {
    const next = new Set(this.folded());
    if (!next.delete(key)) next.add(key);
    this.folded.set(next);
  }

  /** Shows what changed of a row at once, before the list is read again. */
  put(id: string, changed: Partial<Row>): void {
    const known = this.find(id);
    if (known === null) return;
    const page = Math.floor(known.at / pageRows);
    const rows = [...(this.pages().get(page) ?? [])];
    rows[known.at % pageRows] = { ...known.row, ...changed };
    this.pages.set(new Map(this.pages()).set(page, rows));
  }

  /** The ids of all that is found, read page by page, each by the one before. */
  ids(most = Infinity): Observable<readonly string[]> {
    const query = this.query();
    return this.readPage(query, 0).pipe(
      expand(([page, rows]) =>
        rows.length < pageRows || (page + 1) * pageRows >= most
          ? EMPTY
          : this.readPage(query, page + 1, rows.at(-1)!.id),
      ),
      reduce<[number, readonly Row[]], string[]>(
        (ids, [, rows]) => [...ids, ...rows.map(({ id }) => id)],
        [],
      ),
    );
  }

  private readWhole(query: GridQuery, pages: readonly number[]): Observable<unknown> {
    const { sort: _, ...which } = query;
    return forkJoin({
      count: this.spec.count(which),
      pages: forkJoin(pages.map((page) => this.readPage(query, page))),
    }).pipe(
      map(({ count, pages: read }) => {
        this.reading.clear();
        this.pages.set(new Map(read));
        this.counted.set(count);
        this.failed.set(null);
      }),
      catchError((error: unknown) => of(this.failed.set(problemOf(error)))),
    );
  }

  /** @param follows the row before the page, where it is known */
  private readPage(query: GridQuery, page: number, follows?: string): Observable<[number, readonly Row[]]> {
    return this.spec
      .rows(query, {
        after: page * pageRows,
        ...(follows !== undefined && { follows }),
        limit: pageRows,
        ...(!this.withCounted && { counted: 'no' }),
      })
      .pipe(map((rows) => [page, rows] as [number, readonly Row[]]));
  }

  private readMissing(pages: readonly number[]): void {
    const query = this.query();
    for (const page of pages.filter((each) => !this.pages().has(each) && !this.reading.has(each))) {
      this.reading.add(page);
      const before = this.pages().get(page - 1);
      this.readPage(query, page, before?.length === pageRows ? before.at(-1)?.id : undefined).subscribe({
        next: ([number, rows]) => {
          this.reading.delete(page);
          if (query !== this.query()) return;
          const next = new Map(this.pages()).set(number, rows);
          for (const kept of next.keys()) if (Math.abs(kept - number) > pagesKept) next.delete(kept);
          this.pages.set(next);
        },
        error: (error: unknown) => {
          this.reading.delete(page);
          this.failed.set(problemOf(error));
        },
      });
    }
  }
}
