import { computed, inject, Injectable, signal } from '@angular/core';
import type { CallOf, ContactPage, ContactRow } from '@kettle/contract';
import { catchError, map, type Observable, of, startWith, Subject, switchMap, tap } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Api, problemOf } from '../../api/api';
import { idle, shownOf, type Loaded } from '../../api/loaded';
import { ChangeStream } from '../../shell/change-stream';

export type PeopleQuery = NonNullable<CallOf<'listContacts'>['query']>;

const pageRows = 100;

/** The list of people as far as it was scrolled: the first page is read anew on every change, the next ones on demand. */
@Injectable()
export class PeopleStore {
  private readonly api = inject(Api);
  private readonly loaded = signal<Loaded<ContactPage>>(idle);
  private readonly asked = new Subject<PeopleQuery>();
  private query: PeopleQuery = {};
  private isReadingMore = false;

  readonly state = this.loaded.asReadonly();
  readonly page = computed(() => shownOf(this.loaded()));
  readonly rows = computed((): readonly ContactRow[] => this.page()?.rows ?? []);

  constructor() {
    this.asked
      .pipe(
        tap((query) => (this.query = query)),
        switchMap((query) => this.readFirst(query)),
        takeUntilDestroyed(),
      )
      .subscribe((next) => this.loaded.set(next));
    inject(ChangeStream)
      .of('contact', 'journal', 'task', 'import', 'run')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.asked.next(this.query));
  }

  show(query: PeopleQuery): void {
    this.asked.next(query);
  }

  again(): void {
    this.asked.next(this.query);
  }

  /** Reads on where the rows end; called when the foot of the list comes into sight. */
  readMore(): void {
    const page = this.page();
    if (!page?.after || this.isReadingMore) return;
    this.isReadingMore = true;
    const { query } = this;
    this.api.call('listContacts', { query: { ...query, limit: pageRows, after: page.after } }).subscribe({
      next: (more) => {
        this.isReadingMore = false;
        const now = this.page();
        if (now === null || this.query !== query || now.after !== page.after) return;
        this.loaded.set({
          kind: 'ready',
          value: { ...now, rows: [...now.rows, ...more.rows], after: more.after },
        });
      },
      error: (error: unknown) => {
        this.isReadingMore = false;
        this.loaded.set({ kind: 'failed', problem: problemOf(error), before: this.page() });
      },
    });
  }

  private readFirst(query: PeopleQuery): Observable<Loaded<ContactPage>> {
    const before = this.page();
    return this.api.call('listContacts', { query: { ...query, limit: pageRows } }).pipe(
      map((value): Loaded<ContactPage> => ({ kind: 'ready', value })),
      startWith<Loaded<ContactPage>>({ kind: 'loading', before }),
      catchError((error: unknown) =>
        of<Loaded<ContactPage>>({ kind: 'failed', problem: problemOf(error), before }),
      ),
    );
  }
}
