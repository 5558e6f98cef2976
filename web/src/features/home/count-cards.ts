import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import type { LeadStatus } from '@kettle/contract';
import { renewalWindowLabel } from '@kettle/contract/agreements/labels';
import { leadStatusLabel } from '@kettle/contract/leads/status-label';
import { sayCount } from '@kettle/core/locale';
import { sayMoney } from '@kettle/core/money';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { BarRows, type BarRow } from './bar-rows';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

const ownerOf = (whose: 'mine' | 'team') => (whose === 'mine' ? 'mine' : 'all');

/** A list of one question: the address of a list knows it as a filter. */
const filterBy = (field: string, value: string) =>
  JSON.stringify({ join: 'all', rules: [{ field, ask: 'is', value }] });

/** Open deals by stage: how many, and what they come to. */
@Component({
  selector: 'kettle-lanes-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BarRows, CardBody, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <kettle-bar-rows label="Open deals by stage" i18n-label [rows]="rows()" />
        @if (rows().length === 0) {
          <p i18n class="soft">
            No open deal.
            <a routerLink="/deals">To the deals</a>
          </p>
        }
      </ng-template>
    </kettle-card-body>
  `,
})
export class LanesCard {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly read = cardReading(
    (owner: 'mine' | 'all') => this.api.call('countDeals', { query: { owner, group: 'stage' } }),
    'deal',
    'pipeline',
  );
  protected readonly rows = computed((): BarRow[] =>
    (this.read.value()?.groups ?? []).map(({ key, name, count, sums }) => {
      const minor = sums.value ?? 0;
      return {
        name,
        value: minor,
        words: $localize`${count}:count: · ${sayMoney(minor, this.user.currency())}:value:`,
        path: '/deals',
        query: { as: 'list', owner: ownerOf(this.whose()), filter: filterBy('stage', key ?? '') },
      };
    }),
  );

  constructor() {
    effect(() => {
      const owner = ownerOf(this.whose());
      untracked(() => this.read.read(owner));
    });
  }
}

/** My people by standing: due and all. */
@Component({
  selector: 'kettle-standings-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BarRows, CardBody],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <kettle-bar-rows label="People by standing" i18n-label [rows]="rows()" />
      </ng-template>
    </kettle-card-body>
  `,
})
export class StandingsCard {
  private readonly api = inject(Api);
  protected readonly read = cardReading(
    (_: null) => this.api.call('listStandings', { query: { owner: 'mine' } }),
    'contact',
    'setting',
  );
  protected readonly rows = computed((): BarRow[] =>
    (this.read.value()?.standings ?? [])
      .filter(({ all }) => all > 0)
      .map(({ standing, due, all }) => ({
        name: standing.name,
        value: all,
        words: due > 0 ? $localize`${due}:due: due of ${all}:all:` : String(all),
        path: '/people',
        query: { standing: standing.id, owner: 'mine' },
        isPressing: due > 0,
      })),
  );

  constructor() {
    this.read.read(null);
  }
}

/** Live leads by status, and those that wait to be done something with. */
@Component({
  selector: 'kettle-leads-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BarRows, CardBody, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <kettle-bar-rows label="Leads by status" i18n-label [rows]="rows()" />
        @if (rows().length === 0) {
          <p i18n class="soft">
            No lead.
            <a routerLink="/deals/leads" [queryParams]="{ owner: 'unowned' }">Look in the pool</a>
          </p>
        }
      </ng-template>
    </kettle-card-body>
  `,
})
export class LeadsCard {
  private readonly api = inject(Api);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly read = cardReading(
    (owner: 'mine' | 'all') => this.api.call('countLeads', { query: { owner } }),
    'lead',
  );
  protected readonly rows = computed((): BarRow[] =>
    (this.read.value()?.counts ?? [])
      .filter(({ count }) => count > 0)
      .map(({ status, count, due }) => ({
        name: leadStatusLabel[status as LeadStatus],
        value: count,
        words: due > 0 ? $localize`${due}:due: due of ${count}:count:` : String(count),
        path: '/deals/leads',
        query: { status, owner: ownerOf(this.whose()) },
        isPressing: due > 0,
      })),
  );

  constructor() {
    effect(() => {
      const owner = ownerOf(this.whose());
      untracked(() => this.read.read(owner));
    });
  }
}

/** Agreements by where they are on their way to the next term. */
@Component({
  selector: 'kettle-renewals-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BarRows, CardBody],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <kettle-bar-rows label="Renewals at stake" i18n-label [rows]="rows()" />
      </ng-template>
    </kettle-card-body>
  `,
})
export class RenewalsCard {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly read = cardReading(
    (owner: 'mine' | 'all') => this.api.call('readRenewals', { query: { owner } }),
    'agreement',
  );
  protected readonly rows = computed((): BarRow[] =>
    (this.read.value()?.windows ?? []).map(({ window, count, yearlyHomeMinor }) => ({
      name: renewalWindowLabel[window],
      value: yearlyHomeMinor,
      words: `${sayCount(count, $localize`agreement|agreements`)} · ${sayMoney(yearlyHomeMinor, this.user.currency())}`,
      path: '/renewals',
      query: { window, owner: ownerOf(this.whose()), as: 'list' },
      isPressing: count > 0 && (window === 'notice' || window === 'over'),
    })),
  );

  constructor() {
    effect(() => {
      const owner = ownerOf(this.whose());
      untracked(() => this.read.read(owner));
    });
  }
}
