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
import { RouterLink } from '@angular/router';
import type { ContactRow, ContactSort } from '@kettle/contract';
import { debounceTime, distinctUntilChanged } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe } from '../../design/say.pipes';
import { Empty, Failed, Waiting } from '../../design/states';
import { Tether } from '../../design/tether';
import { ChangeStream } from '../../shell/change-stream';
import { Here } from '../../shell/here';
import { Keys } from '../../shell/keys';
import { Opened } from '../../shell/opened';
import { PeopleStore } from './people.store';

const settleMillis = 160;
/** The next page is asked for when fewer rows than this lie below the screen. */
const rowsAhead = 40;

/** The grid of contacts: standings with due and all, search as you type, sort, a tether for each, start on a cadence. */
@Component({
  selector: 'kettle-people-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkVirtualScrollViewport,
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    MatIcon,
    RouterLink,
    Tether,
    DayPipe,
    Empty,
    Failed,
    Waiting,
  ],
  providers: [PeopleStore],
  templateUrl: './people-page.html',
  styleUrl: './people-page.scss',
})
export class PeoplePage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  protected readonly store = inject(PeopleStore);
  protected readonly here = inject(Here);
  protected readonly opened = inject(Opened);

  /** The view, kept in the address. */
  readonly q = input<string>();
  readonly sort = input<ContactSort>();
  readonly order = input<'up' | 'down'>();
  readonly owner = input<'mine' | 'unowned' | 'all'>();
  readonly standing = input<string>();
  readonly quiet = input<'yes'>();

  private readonly searchBox = viewChild<ElementRef<HTMLInputElement>>('search');
  protected readonly typed = linkedSignal(() => this.q() ?? '');
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  protected readonly standings = reading((_: null) => this.api.call('listStandings'));
  protected readonly hasFilter = computed(() =>
    Boolean(this.q() || this.standing() || this.quiet() || (this.owner() ?? 'all') !== 'all'),
  );
  protected readonly standingNames = computed(
    () =>
      new Map(
        (this.standings.value()?.standings ?? []).map(({ standing }) => [
          standing.id as string,
          standing.name,
        ]),
      ),
  );
  protected readonly found = computed(() => {
    const page = this.store.page();
    if (page === null) return '';
    return page.foundIsExact ? String(page.found) : `more than ${page.found}`;
  });
  protected readonly owners = ['all', 'mine', 'unowned'] as const;
  protected readonly emptySet: ReadonlySet<string> = new Set();
  protected readonly columns: readonly { sort: ContactSort; name: string }[] = [
    { sort: 'name', name: 'name' },
    { sort: 'company', name: 'company' },
    { sort: 'last-touch', name: 'last touch' },
    { sort: 'next-step', name: 'next step' },
    { sort: 'check-in', name: 'check-in' },
  ];

  constructor() {
    effect(() => {
      const query = {
        q: this.q(),
        sort: this.sort(),
        order: this.order(),
        owner: this.owner(),
        standing: this.standing(),
        quiet: this.quiet(),
      };
      untracked(() => this.store.show(query));
    });
    this.standings.read(null);
    inject(ChangeStream)
      .of('contact', 'journal', 'import')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.standings.again());
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.opened.setQuery({ q: words || null });
      });
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next person', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Person before', act: () => this.step(-1) },
      { keys: 'x', words: 'Pick the person', act: () => this.pickOpened() },
      { keys: 'a', words: 'Add a person', act: () => void this.addPerson() },
      { keys: 'f', words: 'Search in this list', act: () => this.searchBox()?.nativeElement.select() },
    );
  }

  protected readonly byId = (_: number, row: ContactRow) => row.id;

  protected sortBy(sort: ContactSort): void {
    const isSame = (this.sort() ?? 'name') === sort;
    const order = isSame && (this.order() ?? 'up') === 'up' ? 'down' : 'up';
    this.opened.setQuery({ sort, order });
  }

  protected ariaSort(sort: ContactSort): 'ascending' | 'descending' | 'none' {
    if ((this.sort() ?? 'name') !== sort) return 'none';
    return (this.order() ?? 'up') === 'up' ? 'ascending' : 'descending';
  }

  protected showAll(): void {
    this.typed.set('');
    this.opened.setQuery({ q: null, standing: null, quiet: null, owner: null });
  }

  protected chooseStanding(id: string): void {
    this.opened.setQuery({ standing: this.standing() === id ? null : id });
  }

  protected onScroll(lastShown: number): void {
    if (lastShown > this.store.rows().length - rowsAhead) this.store.readMore();
  }

  protected toggle(row: ContactRow): void {
    const next = new Set(this.picked());
    if (!next.delete(row.id)) next.add(row.id);
    this.picked.set(next);
  }

  protected open(row: ContactRow): void {
    this.opened.open({ kind: 'contact', id: row.id });
  }

  protected async addPerson(): Promise<void> {
    const { ContactDialog } = await import('./contact-dialog');
    this.dialog
      .open(ContactDialog, { data: null, width: '560px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.opened.open({ kind: 'contact', id: made.id });
      });
  }

  protected async startCadence(): Promise<void> {
    const { StartDialog } = await import('../cadences/start-dialog');
    this.dialog
      .open(StartDialog, { data: { contactIds: [...this.picked()] }, width: '760px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((started: boolean | undefined) => {
        if (started) this.picked.set(new Set());
      });
  }

  private step(by: number): void {
    const rows = this.store.rows();
    const at = rows.findIndex((row) => row.id === this.opened.record()?.id);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) this.open(next);
  }

  private pickOpened(): void {
    const row = this.store.rows().find((each) => each.id === this.opened.record()?.id);
    if (row) this.toggle(row);
  }
}
