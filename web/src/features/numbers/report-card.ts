import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { AskReport, Report, ReportLine, SavedView } from '@kettle/contract';
import { reportPeriodLabel } from '@kettle/contract/numbers/labels';
import { sayFigure } from '@kettle/core/numbers';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { askedInAddress } from './asked-in-address';
import { ReportChart } from './report-chart';

const mostRows = 6;

/** A report that was saved and pinned: its picture, or its first rows; all of it is a press away. */
@Component({
  selector: 'kettle-report-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, ReportChart, RouterLink, Waiting],
  template: `
    <p>
      <a routerLink="/numbers" [queryParams]="query()">{{ view().name }}</a>
      &ngsp;
      <span class="soft">{{ period() }}</span>
    </p>
    @if (it(); as found) {
      @if (found.rows.length === 0) {
        <p i18n class="soft">Nothing in it yet.</p>
      } @else if (shape() === 'chart') {
        <kettle-report-chart
          [report]="found"
          [height]="180"
          (picked)="open($event.line.key, $event.column)"
        />
      } @else {
        <ul>
          @for (line of found.rows.slice(0, most); track line.key) {
            <li>
              <span>{{ line.name }}</span>
              <b>{{ say(found, line) }}</b>
            </li>
          }
        </ul>
      }
    } @else if (read.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="read.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: var(--space-3);
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class ReportCard {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly user = inject(CurrentUser);
  readonly view = input.required<SavedView>();
  readonly shape = input.required<'list' | 'chart'>();
  protected readonly most = mostRows;
  protected readonly query = computed(() => Object.fromEntries(new URLSearchParams(this.view().query)));
  private readonly asked = computed(() => askedInAddress(this.query()));
  protected readonly period = computed(() => {
    const asked = this.asked();
    return asked === null ? '' : reportPeriodLabel[asked.period];
  });
  protected readonly read = reading((query: AskReport) => this.api.call('report', { query }));
  protected readonly it = this.read.value;

  constructor() {
    effect(() => {
      const asked = this.asked();
      untracked(() => asked !== null && this.read.read(asked));
    });
  }

  protected say({ columns }: Report, { figures }: ReportLine): string {
    return sayFigure(figures[0] ?? { value: null }, columns[0]?.type ?? 'count', this.user.currency());
  }

  protected open(row: string, column: string): void {
    void this.router.navigate(['/numbers'], { queryParams: { ...this.query(), row, column } });
  }
}
