import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { DealRow } from '@kettle/contract';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Tether } from '../../kit/tether';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { WordPipe } from '../../kit/value-words';

/** Deals as lines: name, value, tether, close date. */
@Component({
  selector: 'kettle-deal-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WordPipe, Pick, Tether, DayPipe, MoneyPipe],
  template: `
    <ul>
      @for (deal of rows(); track deal.id) {
        <li>
          <button kit-pick (click)="selected.open({ kind: 'deal', id: deal.id })">
            <b>{{ deal.name }}</b>
            <span class="num">{{ deal.amountMinor | money: deal.currency }}</span>
            <span class="soft">
              @if (deal.status === 'open') {
                <ng-container i18n>
                  {{ deal.tetherState | word }} · closes {{ deal.expectedCloseOn | day: 'date' }}
                </ng-container>
              } @else {
                {{ deal.status | word }}
              }
            </span>
            @if (deal.status === 'open') {
              <kettle-tether [facts]="deal.tether" [today]="user.today()" />
            }
          </button>
        </li>
      }
    </ul>
  `,
  styles: `
    button {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 2px var(--space-3);
      inline-size: 100%;
      padding: 7px 0;
      border: 0;
      border-block-end: 1px solid var(--hairline);
      background: none;
      color: inherit;
      font: inherit;
      text-align: start;
      cursor: pointer;
    }
    button:hover {
      background: var(--band);
    }
  `,
})
export class DealRows {
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  readonly rows = input.required<readonly DealRow[]>();
}
