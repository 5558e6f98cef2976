import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CallOf, DealRow, Stage } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MoneyPipe } from '../../design/say.pipes';
import { Empty, Failed, Waiting } from '../../design/states';
import { Tether } from '../../design/tether';
import { ChangeStream } from '../../shell/change-stream';
import { Here } from '../../shell/here';
import { Opened } from '../../shell/opened';

type Show = 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled';

interface StageGroup {
  readonly stage: Stage;
  readonly rows: readonly DealRow[];
  readonly totalMinor: number;
  readonly weightedMinor: number;
}

/** Open deals by stage with totals, weighted totals and tethers. */
@Component({
  selector: 'kettle-deals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Tether, MoneyPipe, DayPipe, Empty, Failed, Waiting],
  templateUrl: './deals-page.html',
  styleUrl: './deals-page.scss',
})
export class DealsPage {
  private readonly api = inject(Api);
  protected readonly here = inject(Here);
  protected readonly opened = inject(Opened);

  /** Filters from the address. */
  readonly owner = input<'mine' | 'all'>();
  readonly show = input<Show>();

  protected readonly shows: readonly Show[] = ['all', 'late', 'today', 'held', 'loose', 'stalled'];
  protected readonly deals = reading((query: CallOf<'listDeals'>['query']) =>
    this.api.call('listDeals', { query }),
  );
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
