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
import { MatIcon } from '@angular/material/icon';
import type { Quotas } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { sayMonth } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { LateDialog } from '../../kit/late-dialog';
import { Pick } from '../../kit/pick';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import type { QuotaAsked } from './quota-dialog';

type QuotaRow = Quotas['rows'][number];

/** Quotas of a year by month: of teams and people; whoever leads them presses a month to set it. */
@Component({
  selector: 'kettle-quotas-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, MatButtonModule, MatIcon, Pick, tableParts, Waiting],
  template: `
    <p class="spread">
      <button
        matIconButton
        type="button"
        (click)="show(shownYear() - 1)"
        aria-label="The year before"
        i18n-aria-label
      >
        <mat-icon svgIcon="fold" />
      </button>
      <b>{{ shownYear() }}</b>
      <button
        matIconButton
        type="button"
        (click)="show(shownYear() + 1)"
        aria-label="The year after"
        i18n-aria-label
      >
        <mat-icon svgIcon="unfold" />
      </button>
    </p>
    @if (quotas.value(); as it) {
      <div class="scrolls">
        <kettle-table [rows]="it.rows" label="Quotas by month" i18n-label [by]="keyOf">
          <ng-template [kettleColumn]="it.rows" head="whose" i18n-head let-row>
            {{ row.isTeam ? texts.team(row.name) : row.name }}
          </ng-template>
          @for (month of it.months; track month; let at = $index) {
            <ng-template [kettleColumn]="it.rows" [head]="monthName(month)" isNumber let-row>
              @if (row.mayChange) {
                <button
                  kit-pick
                  [class.carried]="!row.amounts[at]!.isSetHere"
                  [attr.aria-label]="texts.set(say(row.amounts[at]!.minor), monthName(month))"
                  (click)="set(row, month, row.amounts[at]!.minor)"
                >
                  {{ say(row.amounts[at]!.minor) }}
                </button>
              } @else {
                {{ say(row.amounts[at]!.minor) }}
              }
              @if (row.ofPeople?.[at]; as sum) {
                <small class="soft" [title]="texts.together">{{ say(sum) }}</small>
              }
            </ng-template>
          }
        </kettle-table>
      </div>
      <p class="soft">
        <ng-container i18n>
          A quota holds from its month until another month has one: those in soft ink hold on from before.
        </ng-container>
        @if (hasTeams()) {
          <ng-container i18n>Small: what the people of the team are to win together.</ng-container>
        }
        @if (!user.isManager()) {
          <ng-container i18n>Whoever leads you sets yours.</ng-container>
        }
      </p>
    } @else if (quotas.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="quotas.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    .scrolls {
      overflow-x: auto;
    }
    .carried {
      color: var(--text-soft);
    }
    small {
      display: block;
    }
  `,
})
export class QuotasPanel {
  protected readonly texts = {
    team: (name: string) => $localize`Team of ${name}:name:`,
    set: (amount: string, month: string) => $localize`${month}:month:: ${amount}:amount:, change it`,
    together: $localize`the quotas of its people together`,
  };
  private readonly api = inject(Api);
  private readonly dialogs = inject(LateDialog);
  protected readonly user = inject(CurrentUser);
  private readonly selected = inject(SelectedRecord);
  readonly year = input<string>();
  protected readonly shownYear = computed(() => {
    const asked = Number(this.year());
    return asked >= 1990 && asked < 2190 ? asked : Number(this.user.today().slice(0, 4));
  });
  protected readonly quotas = reading((from: string) =>
    this.api.call('readQuotas', { query: { from, months: 12 } }),
  );
  protected readonly hasTeams = computed(() => this.quotas.value()?.rows.some(({ isTeam }) => isTeam));
  protected readonly keyOf = ({ userId, isTeam }: QuotaRow) => `${userId}${isTeam ? '+' : ''}`;

  constructor() {
    effect(() => {
      const from = `${this.shownYear()}-01-01`;
      untracked(() => this.quotas.read(from));
    });
    inject(ChangeStream)
      .of('quota', 'user')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.quotas.again());
  }

  protected monthName(month: string): string {
    return sayMonth(month, 'short');
  }

  protected say(minor: number | null): string {
    return minor === null ? '—' : sayMoney(minor, this.user.currency());
  }

  protected show(year: number): void {
    const now = Number(this.user.today().slice(0, 4));
    this.selected.setQuery({ year: year === now ? null : String(year) });
  }

  protected async set(row: QuotaRow, month: string, minor: number | null): Promise<void> {
    const { QuotaDialog } = await import('./quota-dialog');
    const whose = row.isTeam ? this.texts.team(row.name) : row.name;
    const data: QuotaAsked = { userId: row.userId, isTeam: row.isTeam, whose, month, minor };
    await this.dialogs.open(QuotaDialog, { data, width: '420px' });
  }
}
