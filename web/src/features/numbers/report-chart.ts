import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  output,
} from '@angular/core';
import type { Report, ReportLine } from '@kettle/contract';
import { reportRowLabel } from '@kettle/contract/numbers/labels';
import { sayFigure } from '@kettle/core/numbers';
import { ChartView, type ChartPoint } from '../../kit/chart';
import { CurrentUser } from '../../services/current-user';

/** More bars than these say nothing. */
const mostRows = 14;

/** The picture of a report: the columns it draws, of its first rows. */
@Component({
  selector: 'kettle-report-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView],
  template: `
    @if (series().length > 0 && rows().length > 0) {
      <kettle-chart
        canPick
        [isTold]="isTold()"
        [kind]="report().drawn.as"
        [label]="report().words"
        [labelHead]="head()"
        [height]="height()"
        [labels]="labels()"
        [series]="series()"
        [most]="type() === 'share' ? 1 : null"
        [say]="say"
        (picked)="press($event)"
      />
      @if (report().rows.length > rows().length) {
        <p i18n class="soft">The picture shows the first {{ rows().length }} rows.</p>
      }
    }
  `,
})
export class ReportChart {
  private readonly user = inject(CurrentUser);
  readonly report = input.required<Report>();
  /** Its table stands beside it. */
  readonly isTold = input(false, { transform: booleanAttribute });
  /** Pixels. */
  readonly height = input(220);
  readonly picked = output<{ readonly line: ReportLine; readonly column: string }>();

  protected readonly rows = computed(() => this.report().rows.slice(0, mostRows));
  protected readonly head = computed(() => reportRowLabel[this.report().by]);
  protected readonly labels = computed(() => this.rows().map(({ name }) => name));
  private readonly drawn = computed(() => {
    const { columns, drawn } = this.report();
    return drawn.columns.flatMap((key) => {
      const at = columns.findIndex((column) => column.key === key);
      return at === -1 ? [] : [{ ...columns[at]!, at }];
    });
  });
  protected readonly type = computed(() => this.drawn()[0]?.type ?? 'count');
  protected readonly series = computed(() =>
    this.drawn().map(({ words, at }) => ({
      name: words,
      values: this.rows().map(({ figures }) => figures[at]?.value ?? null),
    })),
  );
  protected readonly say = (value: number) => sayFigure({ value }, this.type(), this.user.currency());

  protected press({ series, at }: ChartPoint): void {
    const line = this.rows()[at];
    const column = this.drawn()[series];
    if (line !== undefined && column !== undefined) this.picked.emit({ line, column: column.key });
  }
}
