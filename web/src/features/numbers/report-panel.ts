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
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { AskReport, AskReportRecords, ReportColumn, ReportFigure, ReportLine } from '@kettle/contract';
import {
  hasPeriod,
  hasPipeline,
  periodsOf,
  reportRows,
  type ReportPeriod,
  type ReportRow,
} from '@kettle/contract/numbers/kinds';
import { reportPeriodLabel, reportRowLabel } from '@kettle/contract/numbers/labels';
import { sayPercent } from '@kettle/core/locale';
import { periodOn, sayFigure } from '@kettle/core/numbers';
import { sayDate } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { DayField } from '../../kit/day-field';
import { Pick } from '../../kit/pick';
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { DealWords } from '../deals/index';
import { PeopleWords } from '../fields/index';
import { ReportChart } from './report-chart';
import { ReportTools } from './report-tools';

/** A question answered: its picture, its table beside the period before, and the records behind each figure. */
@Component({
  selector: 'kettle-report-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[ChoiceField, CountPipe, DayField, DayPipe, Empty, Failed, MatButtonModule, MoneyPipe, Pick],
    ...[ReportChart, ReportTools, RouterLink, tableParts, Waiting],
  ],
  templateUrl: './report-panel.html',
  styleUrl: './report-panel.scss',
})
export class ReportPanel {
  protected readonly texts = {
    records: $localize`record|records`,
    open: (row: string, column: string, figure: string) =>
      $localize`${figure}:figure:: ${column}:column:, ${row}:row:. Show them`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly words = inject(DealWords);
  private readonly people = inject(PeopleWords);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  readonly asked = input.required<AskReport>();
  /** The figure whose records are shown, kept in the address. */
  readonly row = input<string>();
  readonly column = input<string>();
  readonly when = input<string>();

  protected readonly read = reading((query: AskReport) => this.api.call('report', { query }));
  protected readonly it = this.read.value;
  protected readonly records = reading((query: AskReportRecords) =>
    this.api.call('reportRecords', { query }),
  );

  protected readonly kind = computed(() => this.asked().kind);
  protected readonly by = computed((): ReportRow => this.asked().by ?? reportRows[this.kind()][0]);
  protected readonly hasPeriod = computed(() => hasPeriod(this.kind()));
  protected readonly periods = computed((): Option<ReportPeriod>[] =>
    periodsOf(this.kind()).map((value) => ({ value, words: reportPeriodLabel[value] })),
  );
  protected readonly owners = computed((): Option<string>[] => [
    { value: 'mine', words: $localize`mine` },
    { value: 'team', words: $localize`the team’s` },
    { value: 'all', words: $localize`everybody’s` },
    ...(this.user.person()?.role === 'rep'
      ? []
      : this.people.colleagues().map(({ id, name }) => ({ value: id as string, words: name }))),
  ]);
  protected readonly pipelines = computed((): Option<string>[] =>
    hasPipeline(this.kind())
      ? [
          { value: '', words: $localize`all pipelines` },
          ...this.words.pipelines().map(({ id, name }) => ({ value: id as string, words: name })),
        ]
      : [],
  );
  protected readonly rowKinds = computed((): Option<ReportRow>[] =>
    reportRows[this.kind()].map((value) => ({ value, words: $localize`by ${reportRowLabel[value]}:row:` })),
  );
  /** The rows and their total below them. */
  protected readonly lines = computed((): readonly ReportLine[] => {
    const it = this.it();
    return it === null ? [] : it.total === null ? it.rows : [...it.rows, it.total];
  });
  protected readonly span = computed(() => {
    const it = this.it();
    const today = this.user.today();
    if (it === null) return '';
    if (it.period === null) return $localize`as it is now`;
    const days = ({ from, to }: { from: string; to: string }) =>
      `${sayDate(from, today)} – ${sayDate(to, today)}`;
    return it.before === null
      ? days(it.period)
      : $localize`${days(it.period)}:now:, beside ${days(it.before)}:before:`;
  });
  /** What is opened: a figure, or all records where the report is of each. */
  protected readonly opened = computed((): AskReportRecords | null => {
    const column = this.column();
    const it = this.it();
    const isKnown = it !== null && it.kind === this.kind();
    if (column === undefined && !(isKnown && it.listsRecords)) return null;
    const when = this.when() === 'before' ? 'before' : 'now';
    return { ...this.asked(), row: this.row(), column, when };
  });
  protected readonly openedWords = computed(() => {
    const it = this.it();
    const asked = this.opened();
    if (it === null || asked === null) return '';
    if (asked.column === undefined) return $localize`Each of them`;
    const column = it.columns.find(({ key }) => key === asked.column)?.words ?? '';
    const row = asked.row === undefined ? '' : (it.rows.find(({ key }) => key === asked.row)?.name ?? '');
    const then = asked.when === 'before' ? $localize`the period before` : '';
    return [column, row, then].filter((part) => part !== '').join(', ');
  });
  protected readonly isTotal = (line: ReportLine) => line === this.it()?.total;
  protected readonly treeOf = (path: string) => this.router.parseUrl(path);
  protected readonly recordKey = ({ id }: { readonly id: string }) => id;

  constructor() {
    this.words.wake();
    this.people.wake();
    effect(() => {
      const asked = this.asked();
      untracked(() => this.read.read(asked));
    });
    effect(() => {
      const opened = this.opened();
      untracked(() => opened !== null && this.records.read(opened));
    });
    inject(ChangeStream)
      .counted('deal', 'journal', 'lead', 'contact', 'agreement', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.read.again();
        if (this.opened() !== null) this.records.again();
      });
  }

  protected readonly figureOf = ({ figures }: ReportLine, at: number): ReportFigure =>
    figures[at] ?? { value: null };
  protected readonly beforeOf = ({ before }: ReportLine, at: number): ReportFigure | null =>
    before?.[at] ?? null;

  protected say({ value }: ReportFigure, { type }: { readonly type: ReportColumn['type'] }): string {
    return sayFigure({ value }, type, this.user.currency());
  }

  /** Between what a share lies in truth. */
  protected bounds({ low, high }: ReportFigure): string {
    return low === undefined || high === undefined ? '' : `${sayPercent(low)} – ${sayPercent(high)}`;
  }

  protected choosePeriod(period: ReportPeriod): void {
    if (period !== 'days') return this.ask({ period, from: null, to: null });
    const { from, to } = periodOn(this.asked(), this.user.today());
    this.ask({ period, from, to });
  }

  protected ask(part: Record<string, string | null>): void {
    this.selected.setQuery({ row: null, column: null, when: null, ...part });
  }

  protected open(line: ReportLine, column: string, when: 'now' | 'before' = 'now'): void {
    if (line.path !== null && when === 'now' && this.kind() === 'standings' && column === 'people')
      void this.router.navigateByUrl(line.path);
    else
      this.selected.setQuery({
        row: this.isTotal(line) ? null : line.key,
        ...{ column, when: when === 'before' ? when : null },
      });
  }

  protected close(): void {
    this.selected.setQuery({ row: null, column: null, when: null });
  }
}
