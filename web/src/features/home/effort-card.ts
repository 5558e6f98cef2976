import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { Ranking } from '@kettle/contract';
import { startOfWeek } from '@kettle/core/time';
import { Api } from '../../api/api';
import { tableParts } from '../../kit/table';
import { CurrentUser } from '../../services/current-user';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

/** What each of the team did this week. */
@Component({
  selector: 'kettle-effort-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, RouterLink, tableParts],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        @if (read.value(); as it) {
          <kettle-table [rows]="it.people" label="Effort of the team this week" i18n-label [by]="idOf">
            <ng-template [kettleColumn]="it.people" head="this week" i18n-head let-each>
              <a routerLink="/team" [queryParams]="{ user: each.userId }">{{ each.name }}</a>
            </ng-template>
            <ng-template [kettleColumn]="it.people" head="touches" i18n-head isNumber let-each>
              {{ each.touches }}
            </ng-template>
            <ng-template [kettleColumn]="it.people" head="conversations" i18n-head isNumber let-each>
              {{ each.conversations }}
            </ng-template>
            <ng-template [kettleColumn]="it.people" head="meetings" i18n-head isNumber let-each>
              {{ each.meetings }}
            </ng-template>
            <ng-template [kettleColumn]="it.people" head="won" i18n-head isNumber let-each>
              {{ each.won }}
            </ng-template>
          </kettle-table>
          <a i18n class="soft" routerLink="/team" [queryParams]="{ part: 'ranking' }">
            Other periods, and what is counted
          </a>
        }
      </ng-template>
    </kettle-card-body>
  `,
})
export class EffortCard {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  protected readonly idOf = ({ userId }: Ranking['people'][number]) => userId;
  protected readonly read = cardReading(
    (_: null) => {
      const to = this.user.today();
      return this.api.call('teamRanking', { query: { from: startOfWeek(to), to } });
    },
    'journal',
    'deal',
  );

  constructor() {
    this.read.read(null);
  }
}
