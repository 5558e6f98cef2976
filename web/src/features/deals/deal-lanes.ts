import { numberFormat, sayCount } from '@kettle/core/locale';
import { majorOf } from '@kettle/core/money';
import { sayMonth } from '@kettle/core/time';
import { CdkDrag, type CdkDragDrop, CdkDropList, CdkDropListGroup } from '@angular/cdk/drag-drop';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { DealRow, Pipeline, Stage } from '@kettle/contract';
import {
  closeInColumn,
  columnOf,
  foldCell,
  laneColumns,
  layLanes,
  totalsOf,
  type LaneColumn,
} from '@kettle/core/deals';
import { Pick } from '../../kit/pick';
import { SharePipe, CountPipe, MoneyPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Notcher } from './notcher';

/** Where a deal was put: its stage and its expected close. */
export interface DealMove {
  readonly deal: DealRow;
  readonly stageId: Stage['id'];
  readonly expectedCloseOn: string | null;
}

/** A deal as the lanes place it. */
type Placed = DealRow & { readonly nextStepOn: string | null };

/** What a deal's menu and keys ask for. */
export type DealAct = 'won' | 'lost' | 'parked' | 'task' | 'move';

const monthsShown = 5;
/** So many bars of a cell are drawn before the rest stands behind a count. */
const mostBars = 5;

/**
 * The lanes: a stage each, deals along the months of their expected close. A deal is dragged, moved with Alt and the arrow
 * keys, or by its menu; what becomes of it is for whoever listens to say.
 */
@Component({
  selector: 'kettle-deal-lanes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    SharePipe,
    CountPipe,
    Pick,
    MatButtonModule,
    CdkDrag,
    CdkDropList,
    CdkDropListGroup,
    MatIcon,
    MatMenuModule,
    MoneyPipe,
  ],
  templateUrl: './deal-lanes.html',
  styleUrl: './deal-lanes.scss',
  host: { '(document:pointerdown)': 'letGo()' },
})
export class DealLanes {
  protected readonly texts = {
    deals: $localize`deal|deals`,
    notches: $localize`notch|notches`,
    moveOrClose: (name: string | number) => $localize`Move or close ${name}:name:`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly notcher = inject(Notcher);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly pipeline = input.required<Pipeline>();
  readonly rows = input.required<readonly DealRow[]>();
  readonly chosen = input<string | null>(null);
  /** Moves that are on their way: the deal stands there until it is known. */
  readonly moving = input<ReadonlyMap<string, DealMove>>(new Map());
  /** Every deal is drawn, however many a cell has. */
  readonly isUnfolded = input(false);
  readonly move = output<DealMove>();
  readonly open = output<DealRow>();
  readonly act = output<{ readonly deal: DealRow; readonly as: DealAct }>();

  /** The deal whose menu is open. */
  protected readonly asked = signal<DealRow | null>(null);
  /** Cells that were opened by hand. */
  private readonly unfolded = signal<ReadonlySet<string>>(new Set());
  /** The deal that the keys carry from cell to cell: it keeps the focus. */
  private readonly carried = signal<string | null>(null);
  protected readonly columns = computed(() => laneColumns(this.user.today(), monthsShown));
  /** A column without any deal gives its room to the others. */
  protected readonly tracks = computed(() =>
    this.columns()
      .map((_, at) =>
        this.lanes().some(({ cells }) => cells[at]!.all.length > 0)
          ? 'minmax(86px, 1fr)'
          : 'minmax(52px, 0.45fr)',
      )
      .join(' '),
  );
  /** Companies with more than one deal here: their bars would say the same. */
  private readonly several = computed(() => {
    const counts = new Map<string, number>();
    for (const { companyName } of this.rows())
      if (companyName !== null) counts.set(companyName, (counts.get(companyName) ?? 0) + 1);
    return new Set([...counts].filter(([, count]) => count > 1).map(([name]) => name));
  });
  protected readonly lanes = computed(() => {
    const placed = this.rows().map((deal): Placed => {
      const move = this.moving().get(deal.id);
      return {
        ...deal,
        stageId: move?.stageId ?? deal.stageId,
        expectedCloseOn: move === undefined ? deal.expectedCloseOn : move.expectedCloseOn,
        nextStepOn: deal.tether.nextStepOn,
      };
    });
    const { stages } = this.pipeline();
    const laid = layLanes(
      placed,
      stages.map(({ id }) => id),
      this.columns(),
      this.user.today(),
    );
    return laid.map((lane, index) => ({
      ...lane,
      stage: stages[index]!,
      cells: lane.cells.map((all, at) => ({ ...this.fold(all, lane.stageId, at), all })),
    }));
  });

  constructor() {
    afterRenderEffect(() => {
      this.lanes();
      const id = this.carried();
      if (id === null) return;
      // A bar that goes to another cell is drawn anew there, and the focus with it.
      if (document.activeElement === document.body)
        this.host.nativeElement.querySelector<HTMLElement>(`[data-deal="${id}"] .name`)?.focus();
      else if (document.activeElement?.closest('[data-deal]')?.getAttribute('data-deal') !== id)
        this.carried.set(null);
    });
  }

  /** Who takes the mouse has left the keys: the focus is not drawn back any more. */
  protected letGo(): void {
    this.carried.set(null);
  }

  private fold(all: readonly Placed[], stageId: string, at: number) {
    const mustShow = ({ id }: Placed) =>
      id === this.chosen() || id === this.carried() || this.moving().has(id);
    const isOpen = this.isUnfolded() || this.unfolded().has(`${stageId} ${at}`);
    return { ...foldCell(all, isOpen ? all.length : mostBars, mustShow), isOpen };
  }

  protected turnFold(stageId: string, at: number): void {
    const key = `${stageId} ${at}`;
    this.unfolded.update(
      (open) => new Set(open.has(key) ? [...open].filter((each) => each !== key) : [...open, key]),
    );
  }

  protected readonly mostBars = mostBars;

  /** "12 more · 84k" */
  protected wordsOfFolded(folded: readonly Placed[]): string {
    return $localize`${folded.length}:length: more · ${this.short(totalsOf(folded).totalMinor)}:totalMinor:`;
  }

  protected nameOf(column: LaneColumn): string {
    if (column.kind === 'overdue') return $localize`overdue`;
    if (column.kind === 'later') return $localize`later or no date`;
    return sayMonth(`${column.month}-01`, 'short');
  }

  /** "12.4k": enough on a bar; the whole amount is its title. */
  protected short(amountMinor: number, currency = this.user.currency()): string {
    return numberFormat({ notation: 'compact', maximumFractionDigits: 1 })
      .format(majorOf(amountMinor, currency))
      .toLowerCase();
  }

  /** The company; of one with several deals what this one is about comes first. @example 'water softener, Penrow Laundry' */
  protected barWords({ companyName, name }: DealRow): string {
    if (companyName === null) return name;
    if (!this.several().has(companyName)) return companyName;
    const about = name.startsWith(`${companyName}: `) ? name.slice(companyName.length + 2) : name;
    return about === companyName ? companyName : `${about}, ${companyName}`;
  }

  /** The deal whose menu is open has no notch. */
  protected readonly isUncut = computed(() => {
    const deal = this.asked();
    return deal === null || this.notcher.of(deal) === 0;
  });

  protected readonly cutsOf = (deal: DealRow): readonly number[] =>
    Array.from({ length: this.notcher.of(deal) }, (_, index) => index);

  protected wordsOf(deal: DealRow): string {
    const stalled = deal.stalledDays > 0 ? $localize`, stalled ${deal.stalledDays} days` : '';
    const cut = this.notcher.of(deal);
    const notches = cut === 0 ? '' : `, ${sayCount(cut, this.texts.notches)}`;
    return $localize`${deal.name}:name:, next step ${deal.tetherState}:tetherState:${notches}:notches:${stalled}:stalled:`;
  }

  protected drop(event: CdkDragDrop<{ stageId: Stage['id']; column: number }, unknown, DealRow>): void {
    const { stageId, column } = event.container.data;
    if (event.previousContainer !== event.container) this.put(event.item.data, stageId, column);
  }

  protected onKey(event: KeyboardEvent, deal: DealRow): void {
    if (!event.altKey || !this.user.mayChangeDeal(deal)) return;
    const { stages } = this.pipeline();
    const stage = stages.findIndex(({ id }) => id === deal.stageId);
    const column = columnOf(deal.expectedCloseOn, this.columns(), this.user.today());
    const places: Readonly<Record<string, readonly [number, number] | undefined>> = {
      ArrowUp: [stage - 1, column],
      ArrowDown: [stage + 1, column],
      ArrowLeft: [stage, column - 1],
      ArrowRight: [stage, column + 1],
    };
    const to = places[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const goal = stages[to[0]];
    if (goal === undefined || to[1] >= this.columns().length) return;
    this.carried.set(deal.id);
    this.put(deal, goal.id, to[1]);
  }

  /** Into a stage and a column; nothing is moved into the past, and what stays in its column keeps its date. */
  protected put({ id }: DealRow, stageId: Stage['id'], column: number): void {
    const deal = this.rows().find((row) => row.id === id);
    if (deal === undefined) return;
    const today = this.user.today();
    const at = this.moving().get(id) ?? deal;
    const isSame = columnOf(at.expectedCloseOn, this.columns(), today) === column;
    const close = isSame
      ? { on: at.expectedCloseOn }
      : closeInColumn(this.columns()[column]!, at.expectedCloseOn, today);
    const expectedCloseOn = close === null ? at.expectedCloseOn : close.on;
    if (stageId !== at.stageId || expectedCloseOn !== at.expectedCloseOn)
      this.move.emit({ deal, stageId, expectedCloseOn });
  }
}
