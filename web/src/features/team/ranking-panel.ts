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
import { RouterLink } from '@angular/router';
import type { Ranking } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { sayDate, startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import { debounceTime } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';

type Ranked = Ranking['people'][number];
const settleMillis = 2_000;

/** Touches, conversations, meetings held and deals won of the team in a period, with the period before it. */
@Component({
  selector: 'kettle-ranking-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, Failed, MatButtonModule, RouterLink, tableParts, Waiting],
  template: `
    <div class="narrow">
      <div class="words" role="group" aria-label="Period" i18n-aria-label>
        @for (each of periods(); track each.words) {
          <button
            matButton
            type="button"
            class="word"
            [attr.aria-pressed]="first() === each.from && last() === user.today()"
            (click)="selected.setQuery({ from: each.from, to: null })"
          >
            {{ each.words }}
          </button>
        }
      </div>
      <kettle-day-field
        label="From"
        i18n-label
        [value]="first()"
        [max]="last()"
        (valueChange)="$event && selected.setQuery({ from: $event })"
      />
      <kettle-day-field
        label="To"
        i18n-label
        [value]="last()"
        [min]="first()"
        (valueChange)="$event && selected.setQuery({ to: $event })"
      />
    </div>
    @if (ranking.value(); as it) {
      <p i18n class="soft">
        In small figures: what it was from {{ day(it.before.from) }} to {{ day(it.before.to) }}.
      </p>
      <kettle-table [rows]="it.people" label="Ranking of the team" i18n-label [by]="idOf">
        <ng-template [kettleColumn]="it.people" head="" let-each>{{ placeOf(each) }}</ng-template>
        <ng-template [kettleColumn]="it.people" head="rep" i18n-head let-each>
          <a routerLink="/team" [queryParams]="{ user: each.userId }">{{ each.name }}</a>
        </ng-template>
        @for (column of columns; track column.head) {
          <ng-template [kettleColumn]="it.people" [head]="column.head" isNumber let-each>
            {{ column.of(each) }}
            <small class="soft">{{ column.of(each.before) }}</small>
          </ng-template>
        }
      </kettle-table>
      <dl class="soft">
        <dt i18n>touches</dt>
        <dd i18n>
          Calls, mails, texts, meetings and visits that somebody logged or wrote themselves: not what a
          cadence sent by itself, and not what customers wrote.
        </dd>
        <dt i18n>conversations</dt>
        <dd i18n>Touches whose outcome counts as a conversation: both sides spoke.</dd>
        <dt i18n>meetings</dt>
        <dd i18n>
          Meetings and visits among the conversations: planned ones that did not take place are none.
        </dd>
        <dt i18n>won</dt>
        <dd i18n>
          Deals their owner won in the period, by the day they were closed, with their value in your own
          currency. Who won most stands first, then who touched most.
        </dd>
      </dl>
    } @else if (ranking.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="ranking.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
      max-inline-size: 980px;
    }
    small {
      display: inline-block;
      min-inline-size: 3ch;
      margin-inline-start: var(--space-1);
    }
    dl {
      display: grid;
      grid-template-columns: auto 1fr;
      gap: var(--space-1) var(--space-3);
      max-inline-size: 72ch;
    }
    dd {
      margin: 0;
    }
  `,
})
export class RankingPanel {
  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  readonly from = input<string>();
  readonly to = input<string>();
  protected readonly first = computed(() => this.from() ?? startOfMonth(this.user.today()));
  protected readonly last = computed(() => this.to() ?? this.user.today());
  protected readonly periods = computed(() => {
    const today = this.user.today();
    return [
      { words: $localize`this week`, from: startOfWeek(today) },
      { words: $localize`this month`, from: startOfMonth(today) },
      { words: $localize`this quarter`, from: startOfQuarter(today) },
      { words: $localize`this year`, from: `${today.slice(0, 4)}-01-01` },
    ];
  });
  protected readonly ranking = reading((query: { from: string; to: string }) =>
    this.api.call('teamRanking', { query }),
  );
  protected readonly columns: readonly {
    readonly head: string;
    readonly of: (numbers: Omit<Ranked, 'userId' | 'name' | 'before'>) => string;
  }[] = [
    { head: $localize`touches`, of: ({ touches }) => String(touches) },
    { head: $localize`conversations`, of: ({ conversations }) => String(conversations) },
    { head: $localize`meetings`, of: ({ meetings }) => String(meetings) },
    { head: $localize`won`, of: ({ won }) => String(won) },
    { head: $localize`value won`, of: ({ wonMinor }) => sayMoney(wonMinor, this.user.currency()) },
  ];
  protected readonly idOf = ({ userId }: Ranked) => userId;
  private readonly places = computed(
    () => new Map((this.ranking.value()?.people ?? []).map(({ userId }, at) => [userId, at + 1])),
  );

  constructor() {
    effect(() => {
      const period = { from: this.first(), to: this.last() };
      untracked(() => this.ranking.read(period));
    });
    inject(ChangeStream)
      .of('journal', 'deal')
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(() => this.ranking.again());
  }

  protected placeOf({ userId }: Ranked): number {
    return this.places().get(userId) ?? 0;
  }

  protected day(on: string): string {
    return sayDate(on, this.user.today());
  }
}
