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
import type { AskForecast, AskReport, ForecastDeal, WhatIf } from '@kettle/contract';
import { periodsOf } from '@kettle/contract/numbers/kinds';
import { sayPercent } from '@kettle/core/locale';
import { majorOf, minorOf, sayMoney } from '@kettle/core/money';
import { periodOn } from '@kettle/core/numbers';
import { addMonths, sayDate, sayMonth, startOfMonth } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChartView } from '../../kit/chart';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { NumberField } from '../../kit/number-field';
import { CountPipe, DayPipe, MoneyPipe, SharePipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { DealWords } from '../deals/index';
import { PeopleWords } from '../fields/index';
import { ReportTools } from './report-tools';

type As = 'as-it-is' | WhatIf['as'];

/** What a month or a quarter may bring, how likely the quota is, what it hangs on, and what it would be if deals came out otherwise. */
@Component({
  selector: 'kettle-forecast-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[ChartView, ChoiceField, CountPipe, DayPipe, Empty, Failed, MatButtonModule, MoneyPipe, NumberField],
    ...[ReportTools, RouterLink, SharePipe, tableParts, Waiting],
  ],
  templateUrl: './forecast-panel.html',
  styleUrl: './forecast-panel.scss',
})
export class ForecastPanel {
  protected readonly texts = {
    deals: $localize`deal|deals`,
    wonDeals: $localize`won deal|won deals`,
    whatIf: (name: string) => $localize`What if ${name}:name:`,
    worth: (name: string) => $localize`What ${name}:name: would be worth`,
  };

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly words = inject(DealWords);
  private readonly people = inject(PeopleWords);
  protected readonly selected = inject(SelectedRecord);
  /** `mine`, `team` or somebody's id. */
  readonly whose = input<string>();
  /** The first day of its first month. */
  readonly from = input<string>();
  readonly months = input<string>();
  readonly pipeline = input<string>();

  protected readonly supposed = signal<readonly WhatIf[]>([]);
  private readonly asked = computed((): Omit<AskForecast, 'whatIf'> => ({
    whose: (this.whose() ?? 'mine') as AskForecast['whose'],
    from: this.period().from,
    months: this.period().months,
    pipelineId: (this.pipeline() ?? null) as AskForecast['pipelineId'],
  }));
  private readonly body = computed((): AskForecast => ({ ...this.asked(), whatIf: [...this.supposed()] }));
  protected readonly read = reading((body: AskForecast) => this.api.call('forecast', { body }));
  protected readonly it = this.read.value;

  protected readonly period = computed((): { from: string; months: 1 | 3 } => {
    const now = startOfMonth(this.user.today());
    const months = this.months() === '3' ? 3 : 1;
    const from = /^\d{4}-\d{2}-01$/.test(this.from() ?? '') ? this.from()! : now;
    return { from, months };
  });
  /** This month and the next two, this quarter and the next. */
  protected readonly periods = computed((): Option<string>[] => {
    const now = startOfMonth(this.user.today());
    const quarter = addMonths(now, -((Number(now.slice(5, 7)) - 1) % 3));
    const monthOf = (from: string) => ({ value: `${from}/1`, words: sayMonth(from) });
    const quarterOf = (from: string) => ({
      value: `${from}/3`,
      words: $localize`${sayMonth(from, 'short')}:from: to ${sayMonth(addMonths(from, 2), 'short')}:to:`,
    });
    const usual = [
      ...[0, 1, 2].map((n) => monthOf(addMonths(now, n))),
      ...[0, 3].map((n) => quarterOf(addMonths(quarter, n))),
    ];
    // An address may name another one.
    const { from, months } = this.period();
    const asked = months === 1 ? monthOf(from) : quarterOf(from);
    return usual.some(({ value }) => value === asked.value) ? usual : [...usual, asked];
  });
  protected readonly periodKey = computed(() => `${this.period().from}/${this.period().months}`);
  protected readonly owners = computed((): Option<string>[] => [
    { value: 'mine', words: $localize`mine` },
    { value: 'team', words: $localize`the team’s` },
    ...(this.user.person()?.role === 'rep'
      ? []
      : this.people.colleagues().map(({ id, name }) => ({ value: id as string, words: name }))),
  ]);
  protected readonly pipelines = computed((): Option<string>[] => [
    { value: '', words: $localize`all pipelines` },
    ...this.words.pipelines().map(({ id, name }) => ({ value: id as string, words: name })),
  ]);
  protected readonly choices: Option<As>[] = [
    { value: 'as-it-is', words: $localize`as it is` },
    { value: 'won', words: $localize`it is won` },
    { value: 'lost', words: $localize`it is lost` },
    { value: 'later', words: $localize`it closes later` },
    { value: 'value', words: $localize`it is worth` },
  ];

  protected readonly curveLabels = computed(() =>
    (this.it()?.chances ?? []).map(({ minor }) => this.money(minor)),
  );
  protected readonly curve = computed(() => [
    {
      name: $localize`chance of at least that`,
      values: (this.it()?.chances ?? []).map(({ chance }) => chance),
    },
  ]);
  protected readonly weekLabels = computed(() =>
    (this.it()?.weeks ?? []).map(({ on }) => sayDate(on, this.user.today())),
  );
  protected readonly weeks = computed(() => {
    const weeks = this.it()?.weeks ?? [];
    return [
      { name: $localize`expected`, values: weeks.map(({ expectedMinor }) => expectedMinor) },
      { name: $localize`in nine of ten cases more than`, values: weeks.map(({ lowMinor }) => lowMinor) },
      { name: $localize`in one of ten cases more than`, values: weeks.map(({ highMinor }) => highMinor) },
      { name: $localize`won by then`, values: weeks.map(({ wonMinor }) => wonMinor) },
    ];
  });

  /** The same question as a report: of a period that has a name. */
  protected readonly report = computed((): AskReport | null => {
    const { from, months } = this.period();
    const period = periodsOf('make-it').find((each) => {
      const found = periodOn({ period: each }, this.user.today());
      return found.from === from && found.months === months;
    });
    if (period === undefined) return null;
    const { whose, pipelineId } = this.asked();
    return { kind: 'make-it', period, whose, pipeline: pipelineId ?? undefined };
  });

  constructor() {
    this.words.wake();
    this.people.wake();
    // What was supposed is of the deals that are shown.
    effect(() => {
      this.asked();
      untracked(() => {
        if (this.supposed().length > 0) this.supposed.set([]);
      });
    });
    effect(() => {
      const body = this.body();
      untracked(() => this.read.read(body));
    });
    inject(ChangeStream)
      .counted('deal', 'quota', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected choosePeriod(key: string): void {
    const [from, months] = key.split('/');
    const isNow = from === startOfMonth(this.user.today()) && months === '1';
    this.selected.setQuery({ from: isNow ? null : from!, months: months === '1' ? null : months! });
  }

  protected asOf({ dealId }: ForecastDeal): As {
    return this.supposed().find((each) => each.dealId === dealId)?.as ?? 'as-it-is';
  }

  /** In whole units, as it is typed. */
  protected worthOf({ dealId, minor }: ForecastDeal): number {
    const said = this.supposed().find((each) => each.dealId === dealId);
    return majorOf(said?.as === 'value' ? said.minor : minor, this.user.currency());
  }

  protected suppose({ dealId, minor }: ForecastDeal, as: As): void {
    const rest = this.supposed().filter((each) => each.dealId !== dealId);
    if (as === 'as-it-is') this.supposed.set(rest);
    else this.supposed.set([...rest, as === 'value' ? { dealId, as, minor } : { dealId, as }]);
  }

  protected supposeWorth({ dealId }: ForecastDeal, major: number | null): void {
    if (major === null || major < 0) return;
    const minor = minorOf(major, this.user.currency());
    this.supposed.update((all) =>
      all.map((each) => (each.dealId === dealId ? { dealId, as: 'value', minor } : each)),
    );
  }

  protected forget(): void {
    this.supposed.set([]);
  }

  /** By how much something supposed is more or less, with its sign. */
  protected more(now: number, then: number): string {
    const by = then - now;
    return by === 0 ? $localize`the same` : `${by > 0 ? '+' : '−'}${this.money(Math.abs(by))}`;
  }

  protected readonly dealKey = ({ dealId }: ForecastDeal) => dealId;

  protected readonly money = (minor: number) => sayMoney(Math.round(minor), this.user.currency());
  protected readonly percent = (share: number) => sayPercent(share);
}
