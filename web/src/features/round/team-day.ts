import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { GridCount } from '@kettle/contract';
import { debounceTime, forkJoin, map } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';

/** A manager looks at it now and then: many changes at once are one reading. */
const settleMillis = 3_000;

/** What one of the team has at hand. */
interface Rep {
  readonly id: string;
  readonly name: string;
  late: number;
  today: number;
  stalled: number;
}

type Part = 'late' | 'today' | 'stalled';

/** Every owner of any of the counts, whoever has most late first. */
function repsOf(counts: Readonly<Record<Part, GridCount>>): readonly Rep[] {
  const reps = new Map<string, Rep>();
  for (const part of ['late', 'today', 'stalled'] as const)
    for (const { key, name, count } of counts[part].groups) {
      if (key === null) continue;
      const rep = reps.get(key) ?? { id: key, name, late: 0, today: 0, stalled: 0 };
      rep[part] = count;
      reps.set(key, rep);
    }
  return [...reps.values()].sort(
    (one, other) =>
      other.late - one.late || other.stalled - one.stalled || one.name.localeCompare(other.name),
  );
}

/** The day of those whom a manager leads: what is late, due and stalled with each, and the leads that nobody has. Every number opens its records. */
@Component({
  selector: 'kettle-team-day',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, CountPipe, Failed, RouterLink, Waiting],
  template: `
    @if (team.value(); as day) {
      @if (day.reps.length > 0 || day.pool > 0) {
        <section aria-labelledby="team-day">
          <h2 i18n id="team-day">Your team today</h2>
          @if (day.pool > 0) {
            <p i18n>
              In the pool, with nobody:
              <a routerLink="/deals/leads" [queryParams]="{ owner: 'unowned' }">
                {{ day.pool | count: texts.leads }}
              </a>
            </p>
          }
          <kettle-table [rows]="day.reps" label="Your team today" i18n-label [by]="idOf">
            <ng-template [kettleColumn]="day.reps" head="Rep" i18n-head let-each>
              <a routerLink="/tasks" [queryParams]="{ owner: each.id }">{{ each.name }}</a>
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Late" i18n-head isNumber let-each>
              @if (each.late > 0) {
                <a class="now" routerLink="/tasks" [queryParams]="{ owner: each.id, due: 'late' }">
                  {{ each.late }}
                </a>
              } @else {
                0
              }
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Due today" i18n-head isNumber let-each>
              @if (each.today > 0) {
                <a routerLink="/tasks" [queryParams]="{ owner: each.id, due: 'today' }">{{ each.today }}</a>
              } @else {
                0
              }
            </ng-template>
            <ng-template [kettleColumn]="day.reps" head="Stalled deals" i18n-head isNumber let-each>
              @if (each.stalled > 0) {
                <a routerLink="/deals" [queryParams]="stalledOf(each.id)">{{ each.stalled }}</a>
              } @else {
                0
              }
            </ng-template>
          </kettle-table>
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
    section {
      max-inline-size: 640px;
      margin-block-start: 24px;
    }
  `,
})
export class TeamDay {
  protected readonly texts = {
    leads: $localize`lead|leads`,
  };

  private readonly api = inject(Api);
  protected readonly idOf = (rep: Rep) => rep.id;
  protected readonly team = reading((_: null) =>
    forkJoin({
      late: this.api.call('countTasks', { query: { owner: 'team', due: 'late', group: 'owner' } }),
      today: this.api.call('countTasks', { query: { owner: 'team', due: 'today', group: 'owner' } }),
      stalled: this.api.call('countDeals', { query: { owner: 'all', show: 'stalled', group: 'owner' } }),
      pool: this.api.call('countLeads', { query: { owner: 'unowned' } }),
    }).pipe(map(({ pool, ...counts }) => ({ reps: repsOf(counts), pool: pool.found }))),
  );

  constructor() {
    this.team.read(null);
    inject(ChangeStream)
      .of('task', 'deal', 'lead')
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(() => this.team.again());
  }

  /** The list of one's stalled deals, as its address says it. */
  protected stalledOf(id: string): Record<string, string> {
    const filter = JSON.stringify({ join: 'all', rules: [{ field: 'owner', ask: 'is', value: id }] });
    return { as: 'list', owner: 'all', show: 'stalled', filter };
  }
}
