import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { numberFormat } from '@kettle/core/locale';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, SharePipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from '../deals/index';

/** How the chances of stages stand against what came of the deals that passed through them. */
@Component({
  selector: 'kettle-calibration-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe, Failed, RouterLink, SharePipe, tableParts, Waiting],
  template: `
    @if (read.value(); as it) {
      <p i18n class="soft">
        Of deals that were won or lost since {{ it.since | day: 'date' }}: how many of those that passed
        through a stage were won. A chance that lies outside what history allows is marked.
      </p>
      <kettle-table [rows]="rows()" label="Chances of stages" i18n-label>
        <ng-template [kettleColumn]="rows()" head="stage" i18n-head let-row>
          <span class="soft">{{ row.pipeline }}</span>
          {{ row.name }}
        </ng-template>
        <ng-template [kettleColumn]="rows()" head="its chance" i18n-head isNumber let-row>
          <span [class.now]="row.proposed !== null">{{ row.chance | share }}</span>
        </ng-template>
        <ng-template [kettleColumn]="rows()" head="won of closed" i18n-head isNumber let-row>
          {{ row.won }} / {{ row.closed }}
        </ng-template>
        <ng-template [kettleColumn]="rows()" head="in truth between" i18n-head isNumber let-row>
          @if (row.low !== null && row.high !== null) {
            {{ row.low | share }} – {{ row.high | share }}
          } @else {
            <span i18n class="soft">nothing closed yet</span>
          }
        </ng-template>
        <ng-template [kettleColumn]="rows()" head="should be" i18n-head isNumber let-row>
          @if (row.proposed !== null) {
            <b>{{ row.proposed | share }}</b>
          } @else {
            <span class="soft">—</span>
          }
        </ng-template>
      </kettle-table>
      @if (isAdmin() && hasProposals()) {
        <p>
          <a i18n routerLink="/settings" [queryParams]="{ part: 'pipelines' }">
            Change the chances under Settings, Pipelines
          </a>
        </p>
      }
      @if (it.score !== null) {
        <p i18n>
          Score:
          <b>{{ say(it.score) }}</b>
          (0 is perfect foresight, 0.25 is tossing a coin): {{ say(it.reliability!) }} because chances are
          off, less {{ say(it.resolution!) }} because stages tell deals apart, plus
          {{ say(it.uncertainty!) }} that nobody can help.
        </p>
        <p i18n class="soft">
          The mean square of chance less outcome over {{ it.passages }} passages through stages (Brier, 1950),
          in its three parts (Murphy, 1973). Deals that are still open are not counted.
        </p>
      }
    } @else if (read.state().kind !== 'failed') {
      <kettle-waiting />
    }
    @if (read.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="read.again()" />
      }
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
export class CalibrationPanel {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly words = inject(DealWords);
  protected readonly read = reading((_: null) => this.api.call('calibration', {}));
  protected readonly isAdmin = computed(() => this.user.person()?.role === 'admin');
  protected readonly rows = computed(() =>
    (this.read.value()?.stages ?? []).map((stage) => ({
      ...stage,
      pipeline: this.words.pipelines().find(({ id }) => id === stage.pipelineId)?.name ?? '',
    })),
  );
  protected readonly hasProposals = computed(() => this.rows().some(({ proposed }) => proposed !== null));

  constructor() {
    this.words.wake();
    this.read.read(null);
    inject(ChangeStream)
      .counted('deal', 'pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected say(value: number): string {
    return numberFormat({ minimumFractionDigits: 3, maximumFractionDigits: 3 }).format(value);
  }
}
