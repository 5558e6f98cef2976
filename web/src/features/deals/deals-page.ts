import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CallOf, DealGridRow, DealRow } from '@kettle/contract';
import { totalsOf } from '@kettle/core/deals';
import { Api } from '../../api/api';
import { ChoiceField, labelled, named } from '../../kit/choice-field';
import { KeyHint } from '../../kit/key-hint';
import { ExplainedWord } from '../../kit/own-word';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { StepDay } from '../../kit/step-day';
import { Tether } from '../../kit/tether';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { DealDialogs } from './deal-dialogs';
import { DealLanes, type DealAct } from './deal-lanes';
import { DealTabs } from './deal-tabs';
import { DealWords } from './deal-words';
import { Notcher } from './notcher';
import { DealsGrid } from './deals-grid';
import { LanesStore } from './lanes.store';
import { periods, reportPeriodOf } from './periods';
import { WordPipe, spoken } from '../../kit/value-words';

type Show = 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled';

/** Deals on lanes along the months of their expected close, or as a list; with totals and weighted totals. */
@Component({
  selector: 'kettle-deals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    WordPipe,
    ChoiceField,
    KeyHint,
    ExplainedWord,
    gridParts,
    MatButtonModule,
    DealLanes,
    DealTabs,
    DayPipe,
    MoneyPipe,
    RouterLink,
    StepDay,
    Tether,
    Empty,
    Waiting,
  ],
  providers: [provideGrid(DealsGrid), LanesStore],
  templateUrl: './deals-page.html',
  styleUrl: './deals-page.scss',
})
export class DealsPage {
  protected readonly texts = {
    open: $localize`open`,
    inAll: $localize`in all`,
    noDealHere: $localize`No deal here`,
    noDealYet: $localize`No deal yet`,
  };

  private readonly api = inject(Api);
  private readonly dialogs = inject(DealDialogs);
  private readonly notices = inject(Notices);
  private readonly notcher = inject(Notcher);
  private readonly spec = inject(DealsGrid);
  protected readonly lanes = inject(LanesStore);
  protected readonly store = inject<GridStore<DealGridRow>>(GridStore);
  protected readonly view = inject<GridView<DealGridRow>>(GridView);
  protected readonly words = inject(DealWords);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly as = input<string>();
  readonly owner = input<'mine' | 'team' | 'all'>();
  readonly show = input<Show>();
  readonly pipeline = input<string>();
  readonly status = input<string>();
  readonly period = input<string>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();

  protected readonly shapes = ['lanes', 'list'] as const;
  protected readonly isLanes = computed(() => this.as() !== 'list');
  protected readonly owners = labelled({
    mine: $localize`mine`,
    team: $localize`my team’s`,
    all: $localize`everyone’s`,
  });
  protected readonly shows: readonly Show[] = ['all', 'late', 'today', 'held', 'loose', 'stalled'];
  /** The report of what is listed: of the same period, and of the same people. */
  protected readonly closedBySource = computed(() => ({
    ...{ part: 'lost', by: 'source', whose: this.owner() ?? null, pipeline: this.pipeline() ?? null },
    period: reportPeriodOf(this.period()),
  }));
  protected readonly statuses = spoken(['open', 'won', 'lost', 'parked', 'any', 'archived']);
  protected readonly periods = labelled({ '': $localize`all dates`, ...periods });
  protected readonly pipelineChoices = computed(() => [
    { value: '', words: $localize`all pipelines` },
    ...named<string>(this.words.pipelines()),
  ]);
  protected readonly isUnfolded = signal(false);

  protected readonly rows = computed(() => this.lanes.deals.value()?.rows ?? []);
  protected readonly pipelines = computed(() => {
    const all = this.lanes.deals.value()?.pipelines ?? [];
    const one = this.pipeline();
    // Also one without a deal is drawn: there is room to begin in.
    return one ? all.filter(({ id }) => id === one) : all;
  });
  protected readonly totals = computed(() => {
    if (this.isLanes())
      return totalsOf(this.rows().map((row) => ({ ...row, nextStepOn: row.tether.nextStepOn })));
    const { value = 0, weighted = 0, unvalued = 0 } = this.store.count()?.sums ?? {};
    return { count: this.store.found(), totalMinor: value, weightedMinor: weighted, unvalued };
  });
  protected readonly hidden = computed(() => this.lanes.deals.value()?.hidden ?? 0);
  protected readonly isEmpty = computed(() =>
    this.isLanes()
      ? this.lanes.deals.state().kind === 'ready' && this.rows().length === 0
      : this.store.isReady() && this.store.found() === 0,
  );

  constructor() {
    this.words.wake();
    this.view.follow(
      computed(() => ({
        as: this.as(),
        owner: this.owner(),
        show: this.show(),
        pipeline: this.pipeline(),
        status: this.status(),
        period: this.period(),
        q: this.q(),
        filter: this.filter(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
      })),
    );
    effect(() => {
      const { sort: _, group: __, status: ___, ...query } = this.spec.asked(this.view.query());
      if (!this.isLanes()) return;
      untracked(() => this.lanes.deals.read(query as unknown as CallOf<'listDeals'>['query']));
    });
    inject(ChangeStream)
      .of('deal', 'task', 'journal', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        if (this.isLanes()) this.lanes.deals.again();
      });
    inject(Keys).bind(
      {
        keys: 's',
        words: $localize`Stage of the deal`,
        act: () => void this.onCurrent((deal) => this.lanes.ask({ deal, first: 'stage' })),
      },
      {
        keys: 'x',
        words: $localize`Expected close of the deal`,
        act: () => void this.onCurrent((deal) => this.lanes.ask({ deal, first: 'close' })),
      },
      {
        keys: 'r',
        words: $localize`Cut a notch: the deal is further within its stage`,
        act: () => void this.onCurrent((deal) => this.notcher.cut(deal, 1)),
      },
      {
        keys: 'Shift+R',
        words: $localize`Take a notch back`,
        act: () => void this.onCurrent((deal) => this.notcher.cut(deal, -1)),
      },
      {
        keys: 't',
        words: $localize`Next step of the deal`,
        act: () => void this.onCurrent((deal) => this.act(deal, 'task')),
      },
      {
        keys: 'p',
        words: $localize`Park the deal`,
        act: () => void this.onCurrent((deal) => this.act(deal, 'parked')),
      },
      {
        keys: 'v',
        words: $localize`The deal is won`,
        act: () => void this.onCurrent((deal) => this.act(deal, 'won')),
      },
      {
        keys: 'l',
        words: $localize`The deal is lost`,
        act: () => void this.onCurrent((deal) => this.act(deal, 'lost')),
      },
      {
        keys: 'u',
        words: $localize`Unfold every month of the lanes, or fold them`,
        act: () => this.isUnfolded.update((is) => !is),
      },
      { keys: 'a', words: $localize`New deal`, act: () => this.make() },
    );
  }

  /** The deal that has the focus, else the one that is open beside. */
  private async onCurrent(act: (deal: DealRow) => unknown): Promise<void> {
    const focused = document.activeElement?.closest('[data-deal]')?.getAttribute('data-deal');
    const id = focused ?? (this.selected.record()?.kind === 'deal' ? this.selected.record()!.id : null);
    if (id === null) return this.notices.say($localize`Choose a deal first: Tab to it, or open it.`);
    // One that is on its way is acted on where it has arrived.
    await this.lanes.arrived(id);
    const shown = this.rows().find((row) => row.id === id);
    const go = (deal: DealRow) => {
      if (this.user.mayChangeDeal(deal)) void act(deal);
      else
        this.notices.say(
          $localize`${deal.name}:name: belongs to ${deal.ownerName}:ownerName:, who can change it.`,
        );
    };
    if (shown) go(shown);
    else this.api.call('getDeal', { params: { id } }).subscribe((deal) => go(deal));
  }

  protected act(deal: DealRow, as: DealAct): Promise<void> {
    if (as === 'move') return this.lanes.ask({ deal });
    return as === 'task' ? this.dialogs.plan(deal) : this.dialogs.close(deal, as);
  }

  protected make(): void {
    void this.dialogs.make();
  }
}
