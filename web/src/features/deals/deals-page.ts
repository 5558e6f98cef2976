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
import { MatDialog } from '@angular/material/dialog';
import type { CallOf, DealRow, Stage } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MoneyPipe } from '../../design/say.pipes';
import { Empty, Failed, Waiting } from '../../design/states';
import { Tether } from '../../design/tether';
import { ChangeStream } from '../../shell/change-stream';
import { Here } from '../../shell/here';
import { Notices } from '../../shell/notices';
import { Opened } from '../../shell/opened';
import { DealLanes, type DealMove } from './deal-lanes';

type Show = 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled';

interface StageGroup {
  readonly stage: Stage;
  readonly rows: readonly DealRow[];
  readonly totalMinor: number;
  readonly weightedMinor: number;
}

/** Open deals on lanes along the months of their expected close, or as a list by stage; with totals and weighted totals. */
@Component({
  selector: 'kettle-deals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DealLanes, Tether, MoneyPipe, DayPipe, Empty, Failed, Waiting],
  templateUrl: './deals-page.html',
  styleUrl: './deals-page.scss',
})
export class DealsPage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  protected readonly here = inject(Here);
  protected readonly opened = inject(Opened);

  /** Filters from the address. */
  readonly owner = input<'mine' | 'all'>();
  readonly show = input<Show>();
  readonly as = input<string>();

  protected readonly shapes = ['lanes', 'list'] as const;
  protected readonly shape = computed(() => (this.as() === 'list' ? 'list' : 'lanes'));
  /** Deals that were moved here and are not known to have been moved there yet. */
  protected readonly moving = signal<ReadonlyMap<string, DealMove>>(new Map());

  protected readonly shows: readonly Show[] = ['all', 'late', 'today', 'held', 'loose', 'stalled'];
  protected readonly deals = reading((query: CallOf<'listDeals'>['query']) =>
    this.api.call('listDeals', { query }),
  );
  protected readonly rows = computed(() => this.deals.value()?.rows ?? []);
  protected readonly pipelines = computed(() => this.deals.value()?.pipelines ?? []);
  protected readonly groups = computed((): StageGroup[] => {
    const all = this.deals.value();
    const stages = all?.pipelines.flatMap((pipeline) => pipeline.stages) ?? [];
    return stages.map((stage) => groupOf(stage, all?.rows ?? [])).filter((group) => group.rows.length > 0);
  });
  protected readonly totals = computed(() => ({
    count: this.deals.value()?.rows.length ?? 0,
    totalMinor: sum(this.groups(), (group) => group.totalMinor),
    weightedMinor: sum(this.groups(), (group) => group.weightedMinor),
  }));

  constructor() {
    effect(() => {
      const query = { owner: this.owner() ?? ('mine' as const), show: this.show() ?? ('all' as const) };
      untracked(() => this.deals.read(query));
    });
    inject(ChangeStream)
      .of('deal', 'task', 'journal')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.deals.again());
  }

  /** Shown where it was put at once; when that is refused it goes back, with the reason. */
  protected moveDeal(move: DealMove, isUndo = false): void {
    const { deal, stageId, expectedCloseOn } = move;
    this.moving.update((all) => new Map(all).set(deal.id, move));
    const settle = () => {
      this.moving.update((all) => new Map([...all].filter(([id]) => id !== deal.id)));
      this.deals.again();
    };
    const body = { version: deal.version, stageId, expectedCloseOn };
    this.api.call('moveDeal', { params: { id: deal.id }, body }).subscribe({
      next: (now) => {
        const all = this.deals.value();
        if (all !== null)
          this.deals.put({ ...all, rows: all.rows.map((row) => (row.id === now.id ? now : row)) });
        settle();
        const back = { deal: now, stageId: deal.stageId, expectedCloseOn: deal.expectedCloseOn };
        if (isUndo) this.notices.say(`${deal.name} is back.`);
        else this.notices.say(`${deal.name}: ${this.wordsOf(now)}.`, () => this.moveDeal(back, true));
      },
      error: (error: unknown) => {
        settle();
        this.notices.problem(error);
      },
    });
  }

  private wordsOf({ stageId, expectedCloseOn }: DealRow): string {
    const stage = this.pipelines()
      .flatMap(({ stages }) => stages)
      .find(({ id }) => id === stageId);
    const close = expectedCloseOn === null ? 'no date' : sayDate(expectedCloseOn, this.here.today());
    return `${stage?.name ?? ''}, ${close}`;
  }

  protected async act(deal: DealRow, as: 'won' | 'lost' | 'parked' | 'task'): Promise<void> {
    if (as === 'task') {
      const { TaskDialog } = await import('../dossier/task-dialog');
      this.dialog.open(TaskDialog, { data: { contactId: deal.contactId, dealId: deal.id }, width: '460px' });
      return;
    }
    const { CloseDealDialog } = await import('./close-deal-dialog');
    this.dialog.open(CloseDealDialog, { data: { deal, as }, width: '420px' });
  }
}

function groupOf(stage: Stage, rows: readonly DealRow[]): StageGroup {
  const inStage = rows.filter((row) => row.stageId === stage.id);
  return {
    stage,
    rows: inStage,
    totalMinor: sum(inStage, (row) => row.amountMinor),
    weightedMinor: sum(inStage, (row) => row.weightedMinor),
  };
}

function sum<Item>(items: readonly Item[], of: (item: Item) => number): number {
  return items.reduce((total, item) => total + of(item), 0);
}
