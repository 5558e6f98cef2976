import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { QuotaPosition } from '@kettle/contract';
import { startOfMonth } from '@kettle/core/time';
import { Api } from '../../api/api';
import { CountPipe, MoneyPipe, SharePipe } from '../../kit/say.pipes';
import { tableParts } from '../../kit/table';
import { CurrentUser } from '../../services/current-user';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';
import { QuotaBar } from './quota-bar';

/** What was won this month against the quota, and with the team each person's. */
@Component({
  selector: 'kettle-month-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, CountPipe, MoneyPipe, QuotaBar, RouterLink, SharePipe, tableParts],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        @if (read.value(); as board) {
          <p class="big">
            <a routerLink="/deals" [queryParams]="wonQuery()">{{ board.total.wonMinor | money }}</a>
            &ngsp;
            @if (board.total.quotaMinor; as quota) {
              <span i18n class="soft">of {{ quota | money }}</span>
            }
          </p>
          @if (board.total.quotaMinor; as quota) {
            <kettle-quota-bar
              [wonMinor]="board.total.wonMinor"
              [expectedMinor]="board.total.expectedMinor"
              [quotaMinor]="quota"
              [elapsed]="board.elapsed"
            />
            <p i18n class="soft">
              {{ board.total.wonMinor / quota | share }} won, {{ board.elapsed | share }} of the month’s
              working days over; {{ board.total.expectedMinor | money }} more expected of what is to close.
            </p>
          } @else {
            <p i18n class="soft">
              No quota is set for this month; {{ board.total.expectedMinor | money }} more expected of what is
              to close.
              @if (user.isManager()) {
                <a routerLink="/team" [queryParams]="{ part: 'quotas' }">Set quotas</a>
              }
            </p>
          }
          @if (board.people.length > 0) {
            <kettle-table [rows]="board.people" label="By person" i18n-label [by]="idOf">
              <ng-template [kettleColumn]="board.people" head="rep" i18n-head let-each>
                {{ each.name }}
              </ng-template>
              <ng-template [kettleColumn]="board.people" head="won" i18n-head isNumber let-each>
                {{ each.wonMinor | money }}
              </ng-template>
              <ng-template [kettleColumn]="board.people" head="quota" i18n-head isNumber let-each>
                {{ each.quotaMinor === null ? '—' : (each.quotaMinor | money) }}
              </ng-template>
              <ng-template [kettleColumn]="board.people" head="of it" i18n-head isNumber let-each>
                {{ each.quotaMinor ? (each.wonMinor / each.quotaMinor | share) : '—' }}
              </ng-template>
              <ng-template [kettleColumn]="board.people" head="expected" i18n-head isNumber let-each>
                {{ each.expectedMinor | money }}
              </ng-template>
            </kettle-table>
          }
          @if (board.unconverted > 0) {
            <p class="now small">
              {{ board.unconverted | count: texts.deals }}
              <ng-container i18n>in a currency without a rate, in no sum.</ng-container>
            </p>
          }
        }
      </ng-template>
    </kettle-card-body>
  `,
  styles: `
    .big a {
      font-size: var(--text-title);
      font-weight: 600;
    }
  `,
})
export class MonthCard {
  protected readonly texts = { deals: $localize`deal|deals` };
  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly idOf = ({ userId }: QuotaPosition) => userId;
  private readonly month = computed(() => startOfMonth(this.user.today()));
  protected readonly read = cardReading(
    (query: { month: string; whose: 'mine' | 'team' }) => this.api.call('quotaBoard', { query }),
    'deal',
    'quota',
  );
  protected readonly wonQuery = computed(() => ({
    ...{ as: 'list', status: 'won', from: this.month() },
    owner: this.whose() === 'mine' ? 'mine' : 'all',
  }));

  constructor() {
    effect(() => {
      const query = { month: this.month(), whose: this.whose() };
      untracked(() => this.read.read(query));
    });
  }
}
