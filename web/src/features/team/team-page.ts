import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { QuotasPanel } from './quotas-panel';
import { RankingPanel } from './ranking-panel';
import { TeamLog } from './team-log';

/** What the team logged, who did how much, and the quotas. */
@Component({
  selector: 'kettle-team-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, QuotasPanel, RankingPanel, TeamLog],
  template: `
    <div class="page">
      <div class="page-head">
        <h1 i18n>Team</h1>
        <span class="grow"></span>
        <div class="words" role="group" aria-label="Shown" i18n-aria-label>
          @for (each of parts; track each.name) {
            <button
              matButton
              type="button"
              class="word"
              [attr.aria-pressed]="shown() === each.name"
              (click)="selected.setQuery({ part: each.name === 'log' ? null : each.name })"
            >
              {{ each.words }}
            </button>
          }
        </div>
      </div>
      @switch (shown()) {
        @case ('ranking') {
          <kettle-ranking-panel [from]="from()" [to]="to()" />
        }
        @case ('quotas') {
          <kettle-quotas-panel [year]="year()" />
        }
        @default {
          <kettle-team-log [user]="user()" [kinds]="kinds()" [deal]="deal()" />
        }
      }
    </div>
  `,
})
export class TeamPage {
  protected readonly me = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  /** The view, kept in the address. */
  readonly part = input<string>();
  readonly user = input<string>();
  readonly kinds = input<string>();
  readonly deal = input<string>();
  readonly from = input<string>();
  readonly to = input<string>();
  readonly year = input<string>();
  protected readonly parts = [
    { name: 'log', words: $localize`Log` },
    { name: 'ranking', words: $localize`Ranking` },
    { name: 'quotas', words: $localize`Quotas` },
  ] as const;
  protected readonly shown = computed(
    () => this.parts.find(({ name }) => name === this.part())?.name ?? 'log',
  );
}
