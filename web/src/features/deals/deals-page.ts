import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { CallOf, DealRow, FilterGroup } from '@kettle/contract';
import { dealGridFields } from '@kettle/contract/base/grid-fields';
import { totalsOf } from '@kettle/core/deals';
import { sayDate } from '@kettle/core/time';
import { debounceTime, distinctUntilChanged, filter, firstValueFrom } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { choiceParts } from '../../kit/choice';
import { SelectedRecord } from '../../services/selected-record';
import { FilterBuilder, askedOnly, columnsOf } from '../contacts/index';
import { ViewsMenu } from '../views/index';
import { DealDialogs } from './deal-dialogs';
import { DealLanes, type DealAct, type DealMove } from './deal-lanes';
import { DealList } from './deal-list';
import type { MoveAsked } from './move-deal-dialog';
import { DealTabs } from './deal-tabs';
import { DealWords } from './deal-words';
import { periodOf, periods } from './periods';

type Show = 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled';
type Query = NonNullable<CallOf<'countDeals'>['query']>;

const settleMillis = 160;
const nothingAsked: FilterGroup = { join: 'all', rules: [] };
/** Groups are open by themselves while they are few. */
const mostOpenAtOnce = 200;

/** Deals on lanes along the months of their expected close, as a list, or grouped; with totals and weighted totals. */
@Component({
  selector: 'kettle-deals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    choiceParts,
    MatButtonModule,
    DealLanes,
    DealList,
    DealTabs,
    FilterBuilder,
    ViewsMenu,
    MoneyPipe,
    Empty,
    Failed,
    Waiting,
  ],
  templateUrl: './deals-page.html',
  styleUrl: './deals-page.scss',
})
export class DealsPage {
  private readonly api = inject(Api);
  private readonly dialogs = inject(DealDialogs);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
  protected readonly words = inject(DealWords);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** Filters from the address. */
  readonly owner = input<'mine' | 'team' | 'all'>();
  readonly show = input<Show>();
  readonly as = input<string>();
  readonly pipeline = input<string>();
  readonly status = input<string>();
  readonly period = input<string>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly by = input<string>();

  protected readonly shapes = ['lanes', 'list', 'grouped'] as const;
  protected readonly shape = computed(() => this.shapes.find((name) => name === this.as()) ?? 'lanes');
  protected readonly owners = [
    ['mine', 'mine'],
    ['team', 'my team’s'],
    ['all', 'everybody’s'],
  ] as const;
  protected readonly shows: readonly Show[] = ['all', 'late', 'today', 'held', 'loose', 'stalled'];
  protected readonly statuses = ['open', 'won', 'lost', 'parked', 'any', 'archived'] as const;
  protected readonly periods = Object.entries(periods);
  protected readonly columns = computed(() =>
    columnsOf(dealGridFields, this.words.fields()).map((column) => ({
      ...column,
      ...this.optionsOf(column.key),
    })),
  );
  protected readonly groupings = computed(() => this.columns().filter(({ canGroup }) => canGroup));
  protected readonly grouping = computed(() => this.by() ?? 'stage');
  protected readonly isAsking = signal(false);
  protected readonly isUnfolded = signal(false);
  protected readonly questions = linkedSignal((): FilterGroup => {
    const text = this.filter();
    return text ? (JSON.parse(text) as FilterGroup) : nothingAsked;
  });
  protected readonly typed = linkedSignal(() => this.q() ?? '');

  /** Which deals, as lanes, list and groups all ask for them. */
  protected readonly query = computed((): Query => {
    const period = periodOf(this.period(), this.user.today());
    const status = this.shape() === 'lanes' ? 'open' : this.status();
    return {
      owner: this.owner() ?? 'mine',
      show: this.show(),
      pipeline: this.pipeline(),
      status: this.statuses.find((known) => known === status) ?? 'open',
      from: period?.from,
      to: period?.to,
      q: this.q(),
      filter: this.filter(),
      // The address carries ids and JSON as text; the server is who judges them.
    } as unknown as Query;
  });
  protected readonly hasFilter = computed(
    () =>
      this.owner() !== 'all' ||
      [this.show(), this.pipeline(), this.status(), this.period(), this.q(), this.filter()].some(Boolean),
  );

  /** Deals that were moved here and are not known to have been moved there yet. */
  protected readonly moving = signal<ReadonlyMap<string, DealMove>>(new Map());
  private readonly moving$ = toObservable(this.moving);
  protected readonly deals = reading((query: Query) => this.api.call('listDeals', { query }));
  protected readonly counted = reading((query: Query) => this.api.call('countDeals', { query }));
  protected readonly rows = computed(() => this.deals.value()?.rows ?? []);
  protected readonly pipelines = computed(() => {
    const all = this.deals.value()?.pipelines ?? [];
    const one = this.pipeline();
    if (one) return all.filter(({ id }) => id === one);
    return all.filter(
      ({ stages }, index) =>
        index === 0 || this.rows().some((row) => stages.some(({ id }) => id === row.stageId)),
    );
  });
  protected readonly state = computed(() =>
    this.shape() === 'lanes' ? this.deals.state() : this.counted.state(),
  );
  protected readonly totals = computed(() => {
    if (this.shape() !== 'lanes')
      return this.counted.value()?.found ?? { count: 0, totalMinor: 0, weightedMinor: 0, unvalued: 0 };
    return totalsOf(this.rows().map((row) => ({ ...row, nextStepOn: row.tether.nextStepOn })));
  });
  protected readonly hidden = computed(() => {
    if (this.shape() === 'lanes') return this.deals.value()?.hidden ?? 0;
    const count = this.counted.value();
    return count ? count.total - count.found.count : 0;
  });
  /** Groups that were opened or closed by hand. */
  private readonly turned = signal<ReadonlyMap<string, boolean>>(new Map());
  protected readonly groups = computed(() =>
    (this.counted.value()?.groups ?? []).map((group) => ({
      ...group,
      isOpen: this.turned().get(group.key ?? '') ?? this.totals().count <= mostOpenAtOnce,
      query: this.groupQuery(group.key),
    })),
  );

  constructor() {
    this.words.wake();
    effect(() => {
      const query = this.query();
      const group = this.shape() === 'grouped' ? { group: this.grouping() } : {};
      const isLanes = this.shape() === 'lanes';
      untracked(() => (isLanes ? this.deals.read(query) : this.counted.read({ ...query, ...group })));
    });
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.selected.setQuery({ q: words || null });
      });
    inject(ChangeStream)
      .of('deal', 'task', 'journal', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => (this.shape() === 'lanes' ? this.deals.again() : this.counted.again()));
    inject(Keys).bind(
      {
        keys: 's',
        words: 'Stage of the deal',
        act: () => void this.onCurrent((deal) => this.ask({ deal, first: 'stage' })),
      },
      {
        keys: 'x',
        words: 'Expected close of the deal',
        act: () => void this.onCurrent((deal) => this.ask({ deal, first: 'close' })),
      },
      {
        keys: 't',
        words: 'Next step of the deal',
        act: () => void this.onCurrent((deal) => this.act(deal, 'task')),
      },
      {
        keys: 'p',
        words: 'Park the deal',
        act: () => void this.onCurrent((deal) => this.act(deal, 'parked')),
      },
      {
        keys: 'v',
        words: 'The deal is won',
        act: () => void this.onCurrent((deal) => this.act(deal, 'won')),
      },
      {
        keys: 'l',
        words: 'The deal is lost',
        act: () => void this.onCurrent((deal) => this.act(deal, 'lost')),
      },
      {
        keys: 'f',
        words: 'Unfold every month of the lanes, or fold them',
        act: () => this.isUnfolded.update((is) => !is),
      },
      { keys: 'a', words: 'New deal', act: () => this.make() },
    );
  }

  private optionsOf(key: string) {
    if (key === 'stage') return { options: this.words.stages().map(({ id, name }) => ({ value: id, name })) };
    if (key === 'pipeline')
      return { options: this.words.pipelines().map(({ id, name }) => ({ value: id, name })) };
    return {};
  }

  private groupQuery(key: string | null): Query {
    const rule = {
      field: this.grouping(),
      ask: key === null || key === '' ? 'empty' : 'is',
      value: key ?? undefined,
    };
    const rules = [...askedOnly(this.questions()).rules, rule];
    return {
      ...this.query(),
      filter: JSON.stringify({
        join: 'all',
        rules: this.questions().join === 'all' ? rules : [askedOnly(this.questions()), rule],
      }),
    };
  }

  protected turn(key: string | null, isOpen: boolean): void {
    this.turned.update((all) => new Map(all).set(key ?? '', isOpen));
  }

  protected askFilter(group: FilterGroup): void {
    this.questions.set(group);
    const asked = askedOnly(group);
    this.selected.setQuery({ filter: asked.rules.length > 0 ? JSON.stringify(asked) : null });
  }

  protected showAll(): void {
    this.isAsking.set(false);
    this.questions.set(nothingAsked);
    this.selected.setQuery({
      owner: 'all',
      show: null,
      pipeline: null,
      status: this.shape() === 'lanes' ? null : 'any',
      period: null,
      q: null,
      filter: null,
    });
  }

  /** The view on screen, as the address carries it, without the record beside it. */
  protected readonly viewQuery = computed(() => {
    const parts = {
      as: this.as(),
      owner: this.owner(),
      show: this.show(),
      pipeline: this.pipeline(),
      status: this.status(),
      period: this.period(),
      q: this.q(),
      filter: this.filter(),
      sort: this.sort(),
      by: this.by(),
    };
    const known = Object.entries(parts).filter((part): part is [string, string] => Boolean(part[1]));
    return new URLSearchParams(known).toString();
  });

  protected showView(query: string): void {
    void this.router.navigate([], {
      queryParams: Object.fromEntries(new URLSearchParams(query)),
      replaceUrl: true,
    });
  }

  /**
   * Shown where it was put at once; when that is refused it goes back, with the reason or the question it was refused for.
   * Moved again while the first move is on its way, it goes on from there when that is known.
   */
  protected moveDeal(move: DealMove): void {
    const isOnItsWay = this.moving().has(move.deal.id);
    this.moving.update((all) => new Map(all).set(move.deal.id, move));
    if (!isOnItsWay) this.sendMove(move, []);
  }

  /** `earlier` are the moves this one follows: they are undone together. */
  private sendMove(move: DealMove, earlier: readonly string[]): void {
    const changeIds = [...earlier, v7()];
    const { deal, stageId, expectedCloseOn } = move;
    const settle = () => {
      this.moving.update((all) => new Map([...all].filter(([id]) => id !== deal.id)));
      this.deals.again();
    };
    const body = { version: deal.version, stageId, expectedCloseOn };
    this.api.call('moveDeal', { params: { id: deal.id }, body }, changeIds.at(-1)).subscribe({
      next: (now) => {
        this.put(now);
        const wanted = this.moving().get(deal.id);
        if (wanted !== undefined && wanted !== move) {
          const next = { ...wanted, deal: now };
          this.moving.update((all) => new Map(all).set(deal.id, next));
          return this.sendMove(next, changeIds);
        }
        settle();
        this.tellMoved(now, changeIds);
      },
      error: (error: unknown) => {
        settle();
        const problem = problemOf(error);
        if (problem.code === 'facts-needed' || problem.code === 'brief-open')
          void this.ask({ deal, stageId, expectedCloseOn, problem });
        else this.notices.problem(error);
      },
    });
  }

  private put(now: DealRow): void {
    const all = this.deals.value();
    if (all !== null)
      this.deals.put({ ...all, rows: all.rows.map((row) => (row.id === now.id ? now : row)) });
  }

  /** The dialog for stage and close: by key, or for what a stage asks. */
  protected async ask(asked: MoveAsked): Promise<void> {
    const changeId = v7();
    (await this.dialogs.move({ ...asked, changeId })).afterClosed().subscribe((moved) => {
      if (moved === undefined) return;
      this.put(moved);
      this.tellMoved(moved, [changeId]);
    });
  }

  private tellMoved(now: DealRow, changeIds: readonly string[]): void {
    this.undo.offer(`${now.name}: ${this.wordsOf(now)}.`, changeIds, () => this.deals.again());
  }

  private wordsOf({ stageId, expectedCloseOn }: DealRow): string {
    const close = expectedCloseOn === null ? 'no date' : sayDate(expectedCloseOn, this.user.today());
    return `${this.words.stage(stageId)?.name ?? ''}, ${close}`;
  }

  /** The deal that has the focus, else the one that is open beside. */
  private async onCurrent(act: (deal: DealRow) => unknown): Promise<void> {
    const focused = document.activeElement?.closest('[data-deal]')?.getAttribute('data-deal');
    const id = focused ?? (this.selected.record()?.kind === 'deal' ? this.selected.record()!.id : null);
    if (id === null) return this.notices.say('Choose a deal first: Tab to it, or open it.');
    // One that is on its way is acted on where it has arrived.
    await firstValueFrom(this.moving$.pipe(filter((moving) => !moving.has(id))));
    const shown = this.rows().find((row) => row.id === id);
    const go = (deal: DealRow) => {
      if (this.user.mayChangeDeal(deal)) void act(deal);
      else this.notices.say(`${deal.name} belongs to ${deal.ownerName}, who can change it.`);
    };
    if (shown) go(shown);
    else this.api.call('getDeal', { params: { id } }).subscribe((deal) => go(deal));
  }

  protected act(deal: DealRow, as: DealAct): Promise<void> {
    if (as === 'move') return this.ask({ deal });
    return as === 'task' ? this.dialogs.plan(deal) : this.dialogs.close(deal, as);
  }

  protected make(): void {
    void this.dialogs.make();
  }
}
