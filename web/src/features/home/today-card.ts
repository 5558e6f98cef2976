import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

const next = 3;

/** How far the day is, what is late, and what comes next in the Round. */
@Component({
  selector: 'kettle-today-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, MatButtonModule, MatIcon, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        @if (read.value(); as round) {
          <p class="facts">
            <a routerLink="/round/done">
              <b>{{ round.header.done }}</b>
              &ngsp;
              <ng-container i18n>done</ng-container>
            </a>
            <a routerLink="/round">
              <b>{{ round.header.left }}</b>
              &ngsp;
              <ng-container i18n>left</ng-container>
            </a>
            @if (round.counts.late > 0) {
              <a class="now" routerLink="/round" [queryParams]="{ due: 'late' }">
                <b>{{ round.counts.late }}</b>
                &ngsp;
                <ng-container i18n>late</ng-container>
              </a>
            }
            <span class="soft" i18n>
              {{ round.header.leftMinutes }} of {{ round.header.freeMinutes }} free min
            </span>
          </p>
          <progress
            [value]="round.header.done"
            [max]="round.header.done + round.header.left || 1"
            aria-label="Done today"
            i18n-aria-label
          ></progress>
          <ol aria-label="Next" i18n-aria-label>
            @for (row of round.above.slice(0, next); track row.key) {
              <li>
                <mat-icon [svgIcon]="row.channel" aria-hidden="true" />
                <a routerLink="/walk" [queryParams]="{ key: row.key }">{{ row.contactName }}</a>
                <span class="soft">{{ row.purpose || row.reasons[0]?.words }}</span>
              </li>
            } @empty {
              <li i18n class="soft">Nothing is due today.</li>
            }
          </ol>
          @if (round.header.left > 0) {
            <a i18n matButton="filled" routerLink="/walk">Walk the round</a>
          }
        }
      </ng-template>
    </kettle-card-body>
  `,
  styleUrl: './today-card.scss',
})
export class TodayCard {
  private readonly api = inject(Api);
  protected readonly next = next;
  protected readonly read = cardReading(
    (_: null) => this.api.call('round', { query: { limit: next } }),
    'task',
    'journal',
    'deal',
  );

  constructor() {
    this.read.read(null);
  }
}
