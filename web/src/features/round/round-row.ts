import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { RoundRow } from '@kettle/contract';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Tether } from '../../kit/tether';
import { CurrentUser } from '../../services/current-user';
import { DraggedRow } from '../../services/dragged-row';

/** One row of the Round: rank, who, why, tether, what waiting costs; chosen, it shows its arithmetic and its acts. */
@Component({
  selector: 'kettle-round-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, MatButtonModule, MatIcon, Tether, MoneyPipe, DayPipe],
  templateUrl: './round-row.html',
  styleUrl: './round-row.scss',
  host: { '[class.chosen]': 'isChosen()' },
})
export class RoundRowPart {
  protected readonly texts = {
    unpin: $localize`Unpin`,
    pin: $localize`Pin`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly dragged = inject(DraggedRow);
  readonly row = input.required<RoundRow>();
  readonly rank = input.required<number>();
  readonly today = input.required<string>();
  readonly isBelow = input(false);
  readonly isChosen = input(false);
  readonly choose = output();
  readonly act = output();
  readonly pin = output();
  readonly defer = output();
  readonly setTime = output();
  readonly letGo = output();

  /** Onto a gap of the day at the left edge. */
  protected drag({ dataTransfer }: DragEvent): void {
    dataTransfer?.setData('text/plain', this.row().contactName);
    this.dragged.row.set(this.row());
  }

  /** Their wall clock, when it differs from the reader's. */
  protected readonly localTime = computed(() => {
    const theirs = this.user.timeOf(this.user.now(), this.row().zone);
    return theirs === this.user.timeOf(this.user.now()) ? null : theirs;
  });
}
