import { booleanAttribute, ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { GridCount, TeamMember } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { debounceTime, forkJoin, map } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';

/** A manager looks at it now and then: many changes at once are one reading. */
const settleMillis = 3_000;

/** What one of the team has at hand. */
interface Rep extends TeamMember {
  readonly stalled: number;
}

/** Each with their stalled deals; of others than those one leads there is no day to show. */
function repsOf(people: readonly TeamMember[], stalled: GridCount): readonly Rep[] {
  const counts = new Map(stalled.groups.map(({ key, count }) => [key, count]));
  return people.map((person) => ({ ...person, stalled: counts.get(person.id) ?? 0 }));
}

/**
 * The day of those whom a manager leads: what is done and to do, what does not fit, what is late, at risk and stalled, who is away, and the leads
 * that nobody has. A name opens the Round, a number its records.
 */
@Component({
  selector: 'kettle-team-day',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, CountPipe, Failed, MatButtonModule, RouterLink, Waiting],
  template: `
    @if (team.value(); as day) {
      @if (day.reps.length > 0 || day.pool > 0) {
        <section [class.alone]="!isCard()" aria-label="Your team today" i18n-aria-label>
          @if (!isCard()) {
            <h2 i18n id="team-day">Your team today</h2>
          }
          <p class="beside">
            @if (day.pool > 0) {
              <span i18n>
                In the pool, with nobody:
                <a routerLink="/deals/leads" [queryParams]="{ owner: 'unowned' }">
                  {{ day.pool | count: texts.leads }}
                </a>
              </span>
            }
            <a i18n matButton routerLink="/tasks" [queryParams]="{ owner: 'given', state: 'all' }">
              tasks I gave to others
            </a>
            <a i18n matButton routerLink="/settings" [queryParams]="{ part: 'me' }">who is away</a>
          </p>
          <kettle-table [rows]="day.reps" label="Your team today" i18n-label [by]="idOf">
            <ng-template [kettleColumn]="day.reps" head="Rep" i18n-head let-each>
              <a routerLink="/round" [queryParams]="{ owner: each.id }">{{ each.name }}</a>
              @if (each.away; as away) {
                <span class="now">{{ awayWords(away) }}</span>
              }
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Done" i18n-head isNumber let-each>
              {{ each.done }}
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="To do" i18n-head isNumber let-each>
              {{ texts.load(each.rows, each.minutes, each.freeMinutes) }}
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Over" i18n-head isNumber let-each>
              @if (each.overMinutes > 0) {
                <a class="now" routerLink="/round" [queryParams]="{ owner: each.id }">
                  {{ texts.minutes(each.overMinutes) }}
                </a>
              } @else {
                0
              }
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Late" i18n-head isNumber let-each>
              @if (each.late > 0) {
                <a class="now" routerLink="/round" [queryParams]="{ owner: each.id, due: 'late' }">
                  {{ each.late }}
                </a>
              } @else {
                0
              }
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="At risk" i18n-head isNumber let-each>
              <span [class.now]="each.atRisk > 0">{{ each.atRisk }}</span>
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Stalled deals" i18n-head isNumber let-each>
              @if (each.stalled > 0) {
                <a routerLink="/deals" [queryParams]="stalledOf(each.id)">{{ each.stalled }}</a>
              } @else {
                0
              }
            </ng-template>
          </kettle-table>
          <p i18n class="soft">
            At risk: promised for a time that has passed, or with a deadline that no day holds any more.
          </p>
        </section>
      }
    } @else {
      @let state = team.state();
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="team.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    .alone {
      max-inline-size: 880px;
      margin-block-start: 24px;
    }
    .beside {
      display: flex;
      flex-wrap: wrap;
      align-items: baseline;
      gap: var(--space-3);
    }
    .now {
      margin-inline-start: var(--space-1);
    }
  `,
})
export class TeamDay {
  protected readonly texts = {
    leads: $localize`lead|leads`,
    minutes: (minutes: number) => $localize`${minutes}:minutes: min`,
    load: (rows: number, minutes: number, free: number) =>
      $localize`${rows}:rows:, ${minutes}:minutes: of ${free}:free: min`,
  };

  /** Within a card that names it. */
  readonly isCard = input(false, { transform: booleanAttribute });

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  protected readonly idOf = (rep: Rep) => rep.id;
  protected readonly team = reading((_: null) =>
    forkJoin({
      team: this.api.call('teamRounds'),
      stalled: this.api.call('countDeals', { query: { owner: 'all', show: 'stalled', group: 'owner' } }),
      pool: this.api.call('countLeads', { query: { owner: 'unowned' } }),
    }).pipe(map(({ pool, team, stalled }) => ({ reps: repsOf(team.people, stalled), pool: pool.found }))),
  );

  constructor() {
    this.team.read(null);
    inject(ChangeStream)
      .of('task', 'deal', 'lead', 'user')
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(() => this.team.again());
  }

  protected awayWords({ until, standInName }: NonNullable<Rep['away']>): string {
    const day = sayDate(until, this.user.today());
    return standInName === null
      ? $localize`away until ${day}:day:`
      : $localize`away until ${day}:day:, ${standInName}:name: stands in`;
  }

  /** The list of one's stalled deals, as its address says it. */
  protected stalledOf(id: string): Record<string, string> {
    const filter = JSON.stringify({ join: 'all', rules: [{ field: 'owner', ask: 'is', value: id }] });
    return { as: 'list', owner: 'all', show: 'stalled', filter };
  }
}
