import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { MomentPipe } from '../../kit/say.pipes';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

const shown = 6;

/** Signs of life that nobody saw to yet, the newest first. */
@Component({
  selector: 'kettle-stirrings-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, MomentPipe, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        <ul>
          @for (each of read.value()?.rows ?? []; track each.id) {
            <li>
              @if (each.contactId) {
                <a [routerLink]="['/people', each.contactId]">{{ each.contactName }}</a>
              }
              {{ each.words }}
              <span class="soft">{{ each.at | moment }}</span>
            </li>
          } @empty {
            <li i18n class="soft">Nothing stirred that is not seen to.</li>
          }
        </ul>
        <a i18n class="soft" routerLink="/mail" [queryParams]="{ box: 'stirrings' }">All stirrings</a>
      </ng-template>
    </kettle-card-body>
  `,
  styles: `
    ul {
      display: grid;
      gap: 6px;
      margin-block-end: var(--space-2);
    }
  `,
})
export class StirringsCard {
  private readonly api = inject(Api);
  protected readonly read = cardReading(
    (_: null) => this.api.call('listStirrings', { query: { whose: 'mine', limit: shown } }),
    'stirring',
  );

  constructor() {
    this.read.read(null);
  }
}
