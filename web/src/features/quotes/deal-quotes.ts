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
import { Router, RouterLink } from '@angular/router';
import type { Deal, DealId } from '@kettle/contract';
import { quoteStateLabel } from '@kettle/contract/quotes/labels';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

/** The quotes of a deal, and a press that drafts another from its product lines. */
@Component({
  selector: 'kettle-deal-quotes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe, MatButtonModule, MoneyPipe, RouterLink],
  template: `
    @if (quotes().length > 0 || mayDraft()) {
      <section aria-label="Quotes" i18n-aria-label>
        <h3 i18n>Quotes</h3>
        @if (quotes().length > 0) {
          <ul>
            @for (each of quotes(); track each.id) {
              <li>
                <a [routerLink]="['/quotes', each.id]">{{ each.number ?? texts.draft }}</a>
                <span [class.now]="each.state === 'lapsed'">{{ labels[each.state] }}</span>
                @if (each.state === 'sent') {
                  <span i18n class="soft">until {{ each.validUntil | day: 'date' }}</span>
                }
                <span class="sum">{{ each.totalMinor | money: each.currency }}</span>
              </li>
            }
          </ul>
        }
        @if (mayDraft()) {
          <button i18n matButton type="button" (click)="draft()">Draft a quote</button>
        }
      </section>
    }
  `,
  styles: `
    section {
      display: grid;
      justify-items: start;
      gap: var(--space-1);
    }
    ul {
      inline-size: 100%;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    .sum {
      margin-inline-start: auto;
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class DealQuotes {
  protected readonly texts = { draft: $localize`Draft` };
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly notices = inject(Notices);
  private readonly user = inject(CurrentUser);
  readonly deal = input.required<Deal>();
  protected readonly labels = quoteStateLabel;
  private readonly read = reading((dealId: DealId) => this.api.call('listQuotes', { query: { dealId } }));
  protected readonly quotes = computed(() => this.read.value()?.quotes ?? []);
  protected readonly mayDraft = computed(
    () => this.deal().status === 'open' && this.user.mayChange(this.deal().ownerId),
  );

  constructor() {
    const id = computed(() => this.deal().id);
    effect(() => {
      const dealId = id();
      untracked(() => this.read.read(dealId));
    });
    inject(ChangeStream)
      .of('quote')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected draft(): void {
    this.api.call('createQuote', { body: { dealId: this.deal().id } }).subscribe({
      next: ({ id }) => void this.router.navigate(['/quotes', id]),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
