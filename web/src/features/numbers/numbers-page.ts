import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { periodOn, reportAddress } from '@kettle/core/numbers';
import { ChoiceField } from '../../kit/choice-field';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { ViewsMenu } from '../views/index';
import { CalibrationPanel } from './calibration-panel';
import { ForecastPanel } from './forecast-panel';
import { MailingsList } from './mailings-list';
import { askedInAddress, periodIn, questionIn } from './asked-in-address';
import { questionGroups, questionLabel, type Question } from './questions';
import { ReportPanel } from './report-panel';

/** Questions with numbers: will we make it, where do deals stand still, what earns answers. */
@Component({
  selector: 'kettle-numbers-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CalibrationPanel, ChoiceField, ForecastPanel, MailingsList, ReportPanel, RouterLink, ViewsMenu],
  template: `
    <div class="page">
      <div class="page-head">
        <h1 i18n>Numbers</h1>
        <span class="grow"></span>
        <kettle-views-menu [place]="'numbers'" [query]="saved()" (chosen)="show($event)" />
      </div>
      <kettle-choice-field
        class="choice"
        label="Question"
        i18n-label
        [value]="shown()"
        (valueChange)="ask($event!)"
        [options]="options"
      />
      <div class="both">
        <nav aria-label="Questions" i18n-aria-label>
          @for (group of groups; track group.words) {
            <h2>{{ group.words }}</h2>
            @for (each of group.of; track each) {
              <a
                routerLink="/numbers"
                [queryParams]="queryOf(each)"
                [attr.aria-current]="shown() === each ? 'page' : null"
              >
                {{ labels[each] }}
              </a>
            }
          }
          <kettle-mailings-list />
        </nav>
        <div class="part">
          @switch (shown()) {
            @case ('chances') {
              <h2>{{ labels.chances }}</h2>
              <kettle-calibration-panel />
            }
            @case ('make-it') {
              <kettle-forecast-panel
                [whose]="whose()"
                [from]="forecast().from"
                [months]="forecast().months"
                [pipeline]="pipeline()"
              />
            }
            @default {
              @if (asked(); as asked) {
                <kettle-report-panel [asked]="asked" [row]="row()" [column]="column()" [when]="when()" />
              }
            }
          }
        </div>
      </div>
    </div>
  `,
  styles: `
    .both {
      display: grid;
      grid-template-columns: 200px minmax(0, 1fr);
      gap: var(--space-6);
      align-items: start;
    }
    nav {
      display: grid;
      position: sticky;
      inset-block-start: var(--space-4);
      gap: 2px;
    }
    nav h2 {
      padding-block: var(--space-3) 2px;
    }
    nav h2:first-child {
      padding-block-start: 0;
    }
    nav a {
      padding-block: 3px;
    }
    nav a[aria-current='page'] {
      color: var(--text);
      font-weight: 600;
    }
    .choice {
      display: none;
    }
    @media (max-width: 900px) {
      .both {
        grid-template-columns: minmax(0, 1fr);
      }
      nav > :not(kettle-mailings-list) {
        display: none;
      }
      nav {
        position: static;
        order: 2;
      }
      .choice {
        display: inline-grid;
        margin-block-end: var(--space-3);
      }
    }
  `,
})
export class NumbersPage {
  private readonly router = inject(Router);
  private readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  /** The question, kept in the address with all that is asked. */
  readonly part = input<string>();
  readonly period = input<string>();
  readonly from = input<string>();
  readonly to = input<string>();
  readonly months = input<string>();
  readonly whose = input<string>();
  readonly pipeline = input<string>();
  readonly by = input<string>();
  /** The figure whose records are shown. */
  readonly row = input<string>();
  readonly column = input<string>();
  readonly when = input<string>();

  protected readonly groups = questionGroups;
  protected readonly labels = questionLabel;
  protected readonly options = questionGroups.map(({ words, of }) => ({
    group: words,
    options: of.map((value) => ({ value, words: questionLabel[value] })),
  }));
  protected readonly shown = computed(() => questionIn(this.part()));
  /** What is foreseen is of a month or a quarter: by its name, or its first day. */
  protected readonly forecast = computed((): { from: string | undefined; months: string | undefined } => {
    const period = periodIn(this.period());
    if (this.from() !== undefined || period === undefined || period === 'days')
      return { from: this.from(), months: this.months() };
    const { from, months } = periodOn({ period }, this.user.today());
    return { from, months: String(months ?? 1) };
  });
  protected readonly asked = computed(() =>
    askedInAddress({
      ...{ part: this.part(), period: this.period(), from: this.from(), to: this.to() },
      ...{ whose: this.whose(), pipeline: this.pipeline(), by: this.by() },
    }),
  );
  /** The question as views keep it; an address without one is none. */
  protected readonly saved = computed(() => {
    const asked = this.asked();
    if (asked === null || this.part() === undefined) return '';
    return asked.kind === 'make-it'
      ? forecastAddress(this.whose(), this.forecast(), this.pipeline())
      : reportAddress(asked);
  });

  /** Another question of the same people, pipeline and period. */
  protected queryOf(part: Question): Record<string, string | undefined> {
    const { period, whose, pipeline } = this;
    return { part, period: period(), whose: whose(), pipeline: pipeline() };
  }

  protected ask(part: Question): void {
    void this.router.navigate(['/numbers'], { queryParams: this.queryOf(part) });
  }

  protected show(query: string): void {
    void this.router.navigate(['/numbers'], { queryParams: Object.fromEntries(new URLSearchParams(query)) });
  }
}

function forecastAddress(
  whose: string | undefined,
  { from, months }: { readonly from: string | undefined; readonly months: string | undefined },
  pipeline: string | undefined,
): string {
  const query = new URLSearchParams({ part: 'make-it' });
  for (const [key, value] of Object.entries({ from, months, whose, pipeline }))
    if (value !== undefined) query.set(key, value);
  return query.toString();
}
