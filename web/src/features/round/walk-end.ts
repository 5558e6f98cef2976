import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { CandidateKind, Channel, UserId } from '@kettle/contract';
import { CountPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty } from '../../kit/states';
import { Keys } from '../../services/keys';
import { Origin } from '../../services/origin';
import { RoundStore } from './round.store';
import { WalkLists } from '../../services/walk-lists';
import { WalkTally } from '../../services/walk-tally';

const shownLeft = 8;

/** What came of a walk: what was done, with how many one spoke, how long it took beside the plan, and what is left at what cost. */
@Component({
  selector: 'kettle-walk-end',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, Empty, MatButtonModule, MoneyPipe],
  template: `
    <div class="page">
      <div class="page-head">
        <h1 i18n>What came of the walk</h1>
        <span class="grow"></span>
        @if (isMore()) {
          <button i18n matButton="filled" type="button" (click)="walkOn()">
            Walk on
            <kbd>W</kbd>
          </button>
        }
        <a matButton="outlined" [href]="back()" (click)="goBack($event)">{{ texts.back }}</a>
      </div>
      @if (tally.walked().length + tally.moved() === 0) {
        <kettle-empty i18n title="Nothing was done in this walk" i18n-title>
          What is logged in a walk is summed up here.
        </kettle-empty>
      } @else {
        <p class="sums">
          <span>
            <b>{{ tally.walked().length }}</b>
            {{ texts.done }}
          </span>
          <span>
            <b>{{ spoken() }}</b>
            {{ texts.spoken }}
          </span>
          <span>
            <b>{{ tally.moved() }}</b>
            {{ texts.moved }}
          </span>
          <span>
            <b>{{ planned() | count: texts.minutes }}</b>
            {{ texts.planned }}
          </span>
          @if (timed().length > 0) {
            <span>
              <b>{{ taken() | count: texts.minutes }}</b>
              {{ texts.took(timed().length) }}
            </span>
          }
        </p>
        <ol class="list" aria-label="Done" i18n-aria-label>
          @for (each of tally.walked(); track each.id) {
            <li>
              <b>{{ each.name }}</b>
              <span>{{ each.outcome }}</span>
              <span class="num soft">
                {{ texts.min(each.plannedMinutes) }}
                @if (each.takenMinutes !== null) {
                  · {{ texts.tookMin(each.takenMinutes) }}
                }
              </span>
            </li>
          }
        </ol>
      }
      @if ((stops() ?? []).length > 0) {
        <h2 i18n>Left of this walk: {{ stops()!.length }}</h2>
      }
      @if (store.round(); as day) {
        <h2 i18n>Left for today: {{ day.above.length }}, {{ leftMinutes() }} min</h2>
        @if (day.above.length > 0) {
          <p i18n class="soft">Left undone today, they cost {{ leftCost() | money }} of waiting.</p>
          <ol class="list" aria-label="Left for today" i18n-aria-label>
            @for (row of day.above.slice(0, shown); track row.key) {
              <li>
                <b>{{ row.contactName }}</b>
                <span class="soft">{{ row.purpose }}</span>
                <span class="num">{{ row.arithmetic.costMinor | money }}</span>
              </li>
            }
          </ol>
          @if (day.above.length > shown) {
            <p i18n class="soft">and {{ day.above.length - shown }} more</p>
          }
        }
      }
    </div>
  `,
  styles: `
    .sums {
      display: flex;
      flex-wrap: wrap;
      gap: 2px var(--space-5);
      color: var(--text-soft);
    }
    .sums b {
      color: var(--text);
    }
    .list {
      margin: 0;
      padding: 0;
      list-style: none;
      max-inline-size: 720px;
    }
    .list li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
      gap: var(--space-3);
      padding-block: 5px;
      border-block-end: 1px solid var(--hairline);
    }
    h2 {
      margin-block-start: var(--space-4);
    }
  `,
})
export class WalkEnd {
  protected readonly texts = {
    back: $localize`To where you came from`,
    done: $localize`done`,
    spoken: $localize`spoken with`,
    moved: $localize`moved to another day`,
    planned: $localize`planned`,
    minutes: $localize`minute|minutes`,
    took: (timed: number) => $localize`taken, of ${timed}:count: that were timed`,
    min: (minutes: number) => $localize`${minutes}:minutes: min planned`,
    tookMin: (minutes: number) => $localize`took ${minutes}:minutes:`,
  };

  private readonly router = inject(Router);
  private readonly lists = inject(WalkLists);
  private readonly origin = inject(Origin);
  protected readonly store = inject(RoundStore);
  protected readonly tally = inject(WalkTally);
  protected readonly shown = shownLeft;

  readonly list = input<string>();
  readonly at = input(0, { transform: (text: unknown) => Math.max(0, Math.trunc(Number(text)) || 0) });
  readonly only = input<Channel>();
  readonly due = input<'late' | 'today' | 'tomorrow'>();
  readonly from = input<CandidateKind>();
  readonly of = input<UserId>();

  /** What a walk through chosen records has not come to; null in a walk of the Round. */
  protected readonly stops = computed(() => {
    const id = this.list();
    return id === undefined ? null : (this.lists.read(id)?.stops.slice(this.at()) ?? null);
  });
  protected readonly isMore = computed(() => (this.stops() ?? this.store.round()?.above ?? []).length > 0);
  protected readonly spoken = computed(
    () => this.tally.walked().filter(({ counts }) => counts === 'conversation').length,
  );
  protected readonly timed = computed(() =>
    this.tally.walked().flatMap(({ takenMinutes }) => takenMinutes ?? []),
  );
  protected readonly taken = computed(() => this.timed().reduce((sum, minutes) => sum + minutes, 0));
  protected readonly planned = computed(() =>
    this.tally.walked().reduce((sum, { plannedMinutes }) => sum + plannedMinutes, 0),
  );
  protected readonly leftMinutes = computed(() =>
    (this.store.round()?.above ?? []).reduce((sum, { minutes }) => sum + minutes, 0),
  );
  protected readonly leftCost = computed(() =>
    (this.store.round()?.above ?? []).reduce((sum, { arithmetic }) => sum + arithmetic.costMinor, 0),
  );
  protected readonly back = computed(() => this.origin.read() ?? '/round');

  constructor() {
    effect(() => {
      const owner = this.of();
      untracked(() => this.store.showUnless({ owner }));
    });
    inject(Keys).bind({
      keys: 'w',
      words: $localize`Walk on`,
      act: () => this.walkOn(),
      applies: () => this.isMore(),
    });
  }

  protected walkOn(): void {
    const list = this.list();
    const queryParams =
      list === undefined
        ? {
            only: this.only(),
            due: this.due(),
            from: this.from(),
            of: this.of(),
            walked: this.tally.walked().length,
          }
        : { list, at: this.at(), walked: this.tally.walked().length };
    void this.router.navigate(['/walk'], { queryParams });
  }

  protected goBack(event: Event): void {
    event.preventDefault();
    void this.router.navigateByUrl(this.back());
  }
}
