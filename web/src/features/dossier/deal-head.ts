import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { DealRow } from '@kettle/contract';
import { SharePipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from '../deals/index';
import { WordPipe } from '../../kit/value-words';

/** What a deal is, in two lines: its value and chance, where it stands, whose it is, and when it closes or closed. */
@Component({
  selector: 'kettle-deal-head',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WordPipe, SharePipe, DayPipe, MoneyPipe, RouterLink],
  template: `
    @let it = deal();
    <h2 class="title">{{ it.name }}</h2>
    <p class="soft">
      {{ it.amountMinor | money: it.currency }}
      @if (it.status === 'open') {
        · {{ it.winProbability | share }}
      }
      @if (it.companyId; as id) {
        ·
        <a [routerLink]="['/companies', id]">{{ it.companyName }}</a>
      }
    </p>
    <p class="soft">
      @if (place(); as words) {
        {{ words }} ·
      }
      {{ it.ownerName }}
      @if (it.status === 'open' || it.status === 'parked') {
        @if (isOverdue()) {
          ·
          <span i18n class="now">should have closed {{ it.expectedCloseOn | day: 'date' }}</span>
        } @else if (it.expectedCloseOn) {
          <ng-container i18n>· closes {{ it.expectedCloseOn | day: 'date' }}</ng-container>
        }
      } @else {
        <ng-container i18n>· {{ it.status | word }} on {{ it.closedOn | day: 'date' }}</ng-container>
      }
    </p>
  `,
  styles: `
    .title {
      font-size: var(--text-title);
      letter-spacing: -0.01em;
    }
  `,
})
export class DealHead {
  private readonly words = inject(DealWords);
  private readonly user = inject(CurrentUser);
  readonly deal = input.required<DealRow>();

  /** The stage, and its pipeline where there are several. */
  protected readonly place = computed(() => {
    const { stageId } = this.deal();
    const pipeline = this.words.pipelines().find(({ stages }) => stages.some(({ id }) => id === stageId));
    const stage = pipeline?.stages.find(({ id }) => id === stageId);
    return this.words.pipelines().length > 1
      ? `${stage?.name ?? ''}, ${pipeline?.name ?? ''}`
      : (stage?.name ?? '');
  });
  protected readonly isOverdue = computed(
    () => this.deal().status === 'open' && (this.deal().expectedCloseOn ?? '9') < this.user.today(),
  );

  constructor() {
    this.words.wake();
  }
}
