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
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CustomerRetention, ValueMove } from '@kettle/contract';
import { sayPercent } from '@kettle/core/locale';
import { sayMoney } from '@kettle/core/money';
import { addMonths, sayMonth } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChartView, type ChartPoint } from '../../kit/chart';
import { MoneyPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { CurrentUser } from '../../services/current-user';

type Month = CustomerRetention['months'][number];

const moves: readonly { readonly kind: ValueMove; readonly words: string; readonly sign: 1 | -1 }[] = [
  { kind: 'new', words: $localize`new`, sign: 1 },
  { kind: 'back', words: $localize`back again`, sign: 1 },
  { kind: 'expansion', words: $localize`more`, sign: 1 },
  { kind: 'contraction', words: $localize`less`, sign: -1 },
  { kind: 'churn', words: $localize`left`, sign: -1 },
];
const spans = [3, 6, 12, 24];

/** How much of what customers bring in a year stays: a bridge from a beginning to an end, by month, and by when customers began. */
@Component({
  selector: 'kettle-retention-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView, Failed, MatButtonModule, MoneyPipe, RouterLink, tableParts, Waiting],
  templateUrl: './retention-panel.html',
  styleUrl: './retention-panel.scss',
})
export class RetentionPanel {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly owner = input.required<'mine' | 'all'>();

  protected readonly moves = moves;
  protected readonly spans = spans;
  protected readonly months = signal(12);
  /** The last month is the running one. */
  protected readonly from = computed(() =>
    addMonths(`${this.user.today().slice(0, 7)}-01`, 1 - this.months()),
  );
  protected readonly read = reading((query: { owner: 'mine' | 'all'; from: string; months: number }) =>
    this.api.call('customerRetention', { query }),
  );
  protected readonly retention = this.read.value;
  protected readonly rows = computed(() => [...(this.retention()?.months ?? [])].reverse());
  /** The figure that is opened: the customers behind it. */
  protected readonly opened = signal<{ kind: ValueMove; from: string; months: number; words: string } | null>(
    null,
  );
  protected readonly records = reading(
    (query: { owner: 'mine' | 'all'; from: string; months: number; kind: ValueMove }) =>
      this.api.call('customerRetentionRecords', { query }),
  );
  protected readonly behind = computed(() => this.records.value()?.rows ?? []);

  protected readonly bridge = computed(() => {
    const whole = this.retention()?.whole;
    if (whole === undefined) return null;
    return {
      labels: [$localize`at the start`, ...moves.map(({ words }) => words), $localize`at the end`],
      series: [
        {
          name: $localize`a year`,
          values: [whole.start, ...moves.map(({ kind, sign }) => sign * whole[kind]), whole.end],
        },
      ],
    };
  });

  constructor() {
    effect(() => {
      const query = { owner: this.owner(), from: this.from(), months: this.months() };
      untracked(() => {
        this.opened.set(null);
        this.read.read(query);
      });
    });
  }

  protected readonly say = (minor: number) => sayMoney(Math.round(minor), this.user.currency());

  protected share(value: number | null): string {
    return value === null ? '–' : sayPercent(value);
  }

  protected monthOf(day: string): string {
    return `${sayMonth(day, 'short')} ${day.slice(0, 4)}`;
  }

  protected openWhole({ at }: ChartPoint): void {
    const move = moves[at - 1];
    if (move !== undefined) this.open(move.kind, this.from(), this.months(), move.words);
  }

  protected openMonth(kind: ValueMove, { month }: Month, words: string): void {
    this.open(kind, month, 1, `${words}, ${this.monthOf(month)}`);
  }

  private open(kind: ValueMove, from: string, months: number, words: string): void {
    this.opened.set({ kind, from, months, words });
    this.records.read({ owner: this.owner(), from, months, kind });
  }

  /** A cohort's value at a month's end, as a share of what it began with. */
  protected cohortShare({ values }: CustomerRetention['cohorts'][number], at: number): string {
    const [first] = values;
    const value = values[at];
    return first === undefined || first === 0 || value === undefined ? '–' : sayPercent(value / first);
  }

  protected readonly cohortMonths = computed(() =>
    [0, 3, 6, 9, 12, 18].filter((month) => month < this.months()),
  );
}
