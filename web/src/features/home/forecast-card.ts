import { ChangeDetectionStrategy, Component, effect, inject, input, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { CountPipe, MoneyPipe, SharePipe } from '../../kit/say.pipes';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

/** What the month may bring, how likely the quota is, and on which deals most hangs. */
@Component({
  selector: 'kettle-forecast-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, CountPipe, MoneyPipe, RouterLink, SharePipe],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        @if (read.value(); as it) {
          <p class="big">
            {{ it.expectedMinor | money }}
            <span i18n class="soft">expected</span>
          </p>
          <p i18n class="soft">
            In eight of ten cases between {{ it.lowMinor | money }} and {{ it.highMinor | money }}:
            {{ it.wonMinor | money }} won, {{ it.open | count: texts.deals }} to close.
          </p>
          @if (it.quotaChance !== null) {
            <p i18n>
              Chance of the quota:
              <b>{{ it.quotaChance | share }}</b>
            </p>
          }
          @if (it.moves.length > 0) {
            <ul aria-label="Deals on which most hangs" i18n-aria-label>
              @for (each of it.moves; track each.dealId) {
                <li>
                  <a [routerLink]="['/deals', each.dealId]">{{ each.name }}</a>
                  <span class="soft num">{{ each.minor | money }} × {{ each.chance | share }}</span>
                  @if (each.ifWon !== null && each.ifLost !== null) {
                    <span i18n class="soft whole">
                      the quota’s chance: {{ each.ifWon | share }} if won, {{ each.ifLost | share }} if lost
                    </span>
                  }
                </li>
              }
            </ul>
          }
        }
      </ng-template>
    </kettle-card-body>
  `,
  styles: `
    .big {
      font-size: var(--text-title);
      font-weight: 600;
    }
    .big .soft {
      font-size: var(--text-body);
      font-weight: 400;
    }
    ul {
      display: grid;
      gap: 6px;
      margin-block-start: var(--space-2);
    }
    li {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 0 var(--space-2);
    }
    li a {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .whole {
      grid-column: 1 / -1;
    }
  `,
})
export class ForecastCard {
  protected readonly texts = { deals: $localize`deal|deals` };
  private readonly api = inject(Api);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly read = cardReading(
    (whose: 'mine' | 'team') => this.api.call('monthForecast', { query: { whose } }),
    'deal',
    'quota',
    'pipeline',
  );

  constructor() {
    effect(() => {
      const whose = this.whose();
      untracked(() => this.read.read(whose));
    });
  }
}
