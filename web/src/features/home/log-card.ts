import { ChangeDetectionStrategy, Component, effect, inject, input, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';
import { JournalLines } from '../dossier/index';

const shown = 6;

/** The newest of what was logged, with comments and thanks. */
@Component({
  selector: 'kettle-log-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, JournalLines, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <kettle-journal-lines
          [entries]="read.value()?.entries ?? []"
          showDeal
          showPerson
          isLinked
          canEdit
          (changed)="read.again()"
        />
        @if (read.value()?.entries?.length === 0) {
          <p i18n class="soft">Nothing was logged yet.</p>
        }
        <a i18n class="soft" routerLink="/team">All of the team log</a>
      </ng-template>
    </kettle-card-body>
  `,
})
export class LogCard {
  private readonly api = inject(Api);
  readonly whose = input.required<'mine' | 'team'>();
  protected readonly read = cardReading(
    (whose: 'mine' | 'team') => this.api.call('teamLog', { query: { whose, limit: shown } }),
    'journal',
  );

  constructor() {
    effect(() => {
      const whose = this.whose();
      untracked(() => this.read.read(whose));
    });
  }
}
