import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RenewalsAhead } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { sayMonth } from '@kettle/core/time';
import { ChartView } from '../../kit/chart';
import { MoneyPipe } from '../../kit/say.pipes';
import { tableParts } from '../../kit/table';
import { CurrentUser } from '../../services/current-user';

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
  protected readonly say = (minor: number) => sayMoney(Math.round(minor), this.user.currency());
}

const sum = (all: readonly number[]) => all.reduce((total, each) => total + each, 0);
