import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { CallOf, DealRow } from '@kettle/contract';
import { Api } from '../../api/api';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Tether } from '../../kit/tether';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { DealWords } from './deal-words';

type Query = NonNullable<CallOf<'pageDeals'>['query']>;

const pageRows = 100;
const rowPixels = 38;
const mostRowsShown = 14;

interface Head {
  readonly words: string;
  readonly sort: string | null;
  readonly isNumber?: boolean;
}

const heads: readonly Head[] = [
  { words: 'deal', sort: 'name' },
  { words: 'stage', sort: 'stage' },
  { words: 'tether', sort: null },
  { words: 'next step', sort: 'next-step' },
  { words: 'closes', sort: 'close' },
  { words: 'owner', sort: 'owner' },
  { words: 'value', sort: 'value', isNumber: true },
  { words: 'weighted', sort: null, isNumber: true },
];

/** Deals as lines, however many: only what is on screen is asked for and drawn. */
@Component({
  selector: 'kettle-deal-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Pick,
    MatButtonModule,
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkVirtualScrollViewport,
    DayPipe,
    MoneyPipe,
    Tether,
  ],
  template: `
    <div role="rowgroup">
      <div class="line head" role="row">
        @for (head of heads; track head.words) {
          <span role="columnheader" [class.num]="head.isNumber" [attr.aria-sort]="order(head)">
            @if (head.sort; as key) {
              <button matButton type="button" (click)="turn(key)">{{ head.words }}{{ mark(head) }}</button>
            } @else {
              {{ head.words }}
            }
          </span>
        }
      </div>
    </div>
    <cdk-virtual-scroll-viewport
      [itemSize]="rowPixels"
      [style.block-size]="height()"
      role="rowgroup"
      (scrolledIndexChange)="fill()"
    >
      <div
        *cdkVirtualFor="let at of places(); trackBy: byPlace"
        class="line"
        role="row"
        [class.chosen]="rowAt(at)?.id === selected.record()?.id && rowAt(at)"
      >
        @if (rowAt(at); as deal) {
          <span role="cell" class="who">
            <button kit-pick class="pick" (click)="selected.open({ kind: 'deal', id: deal.id })">
              <b>{{ deal.name }}</b>
              <span class="soft">{{ deal.contactName }}</span>
            </button>
          </span>
          <span role="cell" class="soft cut">
            {{ words.stage(deal.stageId)?.name }}
            @if (deal.stalledDays > 0 && deal.status === 'open') {
              <span class="stalled">stalled {{ deal.stalledDays }} d</span>
            }
          </span>
          <span role="cell"><kettle-tether [facts]="deal.tether" [today]="user.today()" /></span>
          <span role="cell" [class.now]="deal.tetherState === 'late' || deal.tetherState === 'today'">
            @if (deal.status !== 'open') {
              <span class="soft">{{ deal.status }}</span>
            } @else if (deal.tether.nextStepOn; as on) {
              {{ on | day: 'short' }}
            } @else {
              <span class="now">loose</span>
            }
          </span>
          <span role="cell" class="soft">{{ deal.closedOn ?? deal.expectedCloseOn | day: 'date' }}</span>
          <span role="cell" class="soft cut">{{ deal.ownerName }}</span>
          <span role="cell" class="num">
            <b>{{ deal.amountMinor | money: deal.currency }}</b>
          </span>
          <span role="cell" class="num soft">{{ deal.weightedMinor | money }}</span>
        } @else {
          <span role="cell" class="soft">…</span>
        }
      </div>
    </cdk-virtual-scroll-viewport>
  `,
  styleUrl: './deal-list.scss',
  host: { role: 'table', '[attr.aria-label]': "count() + ' deals'" },
})
export class DealList {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  protected readonly words = inject(DealWords);
  /** Everything but sort and place: which deals. */
  readonly query = input.required<Query>();
  readonly count = input.required<number>();
  readonly sort = input('next-step');
  /** Whether it takes the rest of the screen, or only as much as its rows need. */
  readonly isWhole = input(true);
  readonly sorted = output<string>();

  protected readonly heads = heads;
  protected readonly rowPixels = rowPixels;
  protected readonly places = computed(() => Array.from({ length: this.count() }, (_, at) => at));
  protected readonly height = computed(() =>
    this.isWhole()
      ? 'max(240px, calc(100dvh - 232px))'
      : `${Math.min(mostRowsShown, this.count()) * rowPixels}px`,
  );
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  private readonly pages = signal<ReadonlyMap<number, readonly DealRow[]>>(new Map());
  private readonly asked = new Set<number>();
  /** Answers to a question that was asked before another are not shown. */
  private turnNumber = 0;

  constructor() {
    this.words.wake();
    effect(() => {
      this.query();
      this.sort();
      this.count();
      untracked(() => this.begin());
    });
    inject(ChangeStream)
      .of('deal', 'task', 'journal')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.begin());
  }

  protected byPlace = (_: number, at: number) => at;

  protected rowAt(at: number): DealRow | undefined {
    return this.pages().get(Math.floor(at / pageRows))?.[at % pageRows];
  }

  protected order({ sort }: Head): 'ascending' | 'descending' | null {
    if (sort === null || this.sort().replace('-', '') !== sort) return null;
    return this.sort().startsWith('-') ? 'descending' : 'ascending';
  }

  protected mark(head: Head): string {
    const order = this.order(head);
    return order === null ? '' : order === 'ascending' ? ' ↑' : ' ↓';
  }

  protected turn(key: string): void {
    this.sorted.emit(this.sort() === key ? `-${key}` : key);
  }

  /** Asks for the pages on screen that are not there yet. */
  protected fill(): void {
    const range = this.viewport()?.getRenderedRange() ?? { start: 0, end: 0 };
    const last = Math.floor(Math.max(0, Math.max(range.end, 1) - 1) / pageRows);
    for (let page = Math.floor(range.start / pageRows); page <= last; page += 1) this.ask(page);
  }

  /** What is on screen stays until its new answer is there. */
  private begin(): void {
    this.turnNumber += 1;
    this.asked.clear();
    if (this.count() > 0) this.fill();
  }

  private ask(page: number): void {
    if (this.asked.has(page)) return;
    this.asked.add(page);
    const turn = this.turnNumber;
    const query = {
      ...this.query(),
      sort: this.sort(),
      after: page * pageRows,
      limit: pageRows,
    } as unknown as Query;
    this.api.call('pageDeals', { query }).subscribe({
      next: ({ rows }) => {
        if (turn === this.turnNumber) this.pages.update((pages) => new Map(pages).set(page, rows));
      },
      error: (error: unknown) => {
        this.asked.delete(page);
        this.notices.problem(error);
      },
    });
  }
}
