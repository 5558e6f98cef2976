import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RenewalsAhead } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { addDays, addMonths, sayMonth } from '@kettle/core/time';
import { type ChartPoint, ChartView } from '../../kit/chart';
import { MoneyPipe } from '../../kit/say.pipes';
import { tableParts } from '../../kit/table';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';

/** What is at stake in each of the next twelve months, by the month in which notice closes, and whose it is. */
@Component({
  selector: 'kettle-stake-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView, MoneyPipe, tableParts],
  template: `
    <h2 i18n>At stake by the month in which notice closes</h2>
    <p i18n class="soft">
      Open in the next twelve months:
      <b>{{ open() | money }}</b>
      a year, of which
      <b>{{ atRisk() | money }}</b>
      is likely to go.
    </p>
    <kettle-chart
      kind="stack"
      label="Value a year by the month in which notice closes"
      i18n-label
      labelHead="month"
      i18n-labelHead
      [height]="220"
      [labels]="labels()"
      [series]="series()"
      [say]="say"
      canPick
      (picked)="showBar($event)"
    />
    @if (ahead().owners.length > 0) {
      <h2 i18n>Open, by owner</h2>
      <kettle-table [rows]="ahead().owners" label="Open, by owner" i18n-label>
        <ng-template [kettleColumn]="ahead().owners" head="owner" i18n-head let-each>
          {{ each.name }}
        </ng-template>
        <ng-template [kettleColumn]="ahead().owners" head="agreements" i18n-head isNumber let-each>
          {{ each.count }}
        </ng-template>
        <ng-template [kettleColumn]="ahead().owners" head="a year" i18n-head isNumber let-each>
          {{ each.yearlyHomeMinor | money }}
        </ng-template>
      </kettle-table>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
      max-inline-size: 900px;
    }
  `,
})
export class StakePanel {
  private readonly user = inject(CurrentUser);
  private readonly selected = inject(SelectedRecord);
  readonly ahead = input.required<RenewalsAhead>();

  protected readonly labels = computed(() =>
    this.ahead().months.map(({ month }) => sayMonth(month, 'short')),
  );
  protected readonly series = computed(() => {
    const { months } = this.ahead();
    return [
      { name: $localize`open`, values: months.map(({ openMinor }) => openMinor) },
      { name: $localize`leaves`, values: months.map(({ leavingMinor }) => leavingMinor) },
      { name: $localize`renewed`, values: months.map(({ renewedMinor }) => renewedMinor) },
    ];
  });
  protected readonly open = computed(() => sum(this.ahead().months.map(({ openMinor }) => openMinor)));
  protected readonly atRisk = computed(() => sum(this.ahead().months.map(({ atRiskMinor }) => atRiskMinor)));
  /** The agreements of a bar: what follows, and the month in which notice closes. */
  protected showBar({ series, at }: ChartPoint): void {
    const month = this.ahead().months[at]?.month;
    if (month === undefined) return;
    const filter = {
      join: 'all',
      rules: [
        { field: 'notice', ask: 'after', value: addDays(month, -1) },
        { field: 'notice', ask: 'before', value: addMonths(month, 1) },
        { field: 'decision', ask: 'is', value: decisions[series] },
        {
          join: 'any',
          rules: ['running', 'over'].map((value) => ({ field: 'state', ask: 'is', value })),
        },
      ],
    };
    this.selected.setQuery({ as: 'list', window: null, filter: JSON.stringify(filter) });
  }

  protected readonly say = (minor: number) => sayMoney(Math.round(minor), this.user.currency());
}

/** What follows, in the order of the series. */
const decisions = ['open', 'leaving', 'renewed'] as const;

const sum = (all: readonly number[]) => all.reduce((total, each) => total + each, 0);
