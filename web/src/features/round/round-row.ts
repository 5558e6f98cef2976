import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { RoundRow } from '@kettle/contract';
import { KeyHint } from '../../kit/key-hint';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Tether } from '../../kit/tether';
import { CurrentUser } from '../../services/current-user';
import { DraggedRow } from '../../services/dragged-row';

/** One row of the Round: rank, who, why, tether, what waiting costs; chosen, it shows its arithmetic and its acts. */
@Component({
  selector: 'kettle-round-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [KeyHint, Pick, MatButtonModule, MatIcon, Tether, MoneyPipe, DayPipe],
  templateUrl: './round-row.html',
  styleUrl: './round-row.scss',
  host: { '[class.chosen]': 'isChosen()' },
})
export class RoundRowPart {
  protected readonly texts = {
    back: $localize`Computed place`,
    pin: $localize`Pin`,
    note: (name: string) => $localize`Note to ${name}:name:`,
    mark: (name: string) => $localize`Mark ${name}:name:`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly dragged = inject(DraggedRow);
  readonly row = input.required<RoundRow>();
  readonly rank = input.required<number>();
  readonly today = input.required<string>();
  readonly isBelow = input(false);
  readonly isChosen = input(false);
  readonly isMarked = input(false);
  /** Of another day than today: its order is not made by hand. */
  readonly isFixedOrder = input(false);
  /** Whose Round it is, where it is not one's own. */
  readonly noteTo = input('');
  readonly note = output();
  readonly choose = output();
  readonly act = output();
  readonly pin = output();
  readonly defer = output();
  readonly setTime = output();
  readonly letGo = output();
  readonly snooze = output();
  readonly mark = output();
  /** What is wrong with it, once it was moved often enough. */
  readonly ask = output();
  /** By one place. */
  readonly nudge = output<-1 | 1>();
  /** Another row is let go over this one. */
  readonly letDrop = output<'before' | 'after'>();
  /** Which edge another row is held over. */
  protected readonly over = signal<'before' | 'after' | null>(null);

  /** Onto a gap of the day at the left edge. */
  protected drag({ dataTransfer }: DragEvent): void {
    dataTransfer?.setData('text/plain', this.row().contactName);
    this.dragged.row.set(this.row());
  }

  protected dragOver(event: DragEvent): void {
    const row = this.dragged.row();
    if (row === null || row.key === this.row().key || this.isFixedOrder()) return;
    event.preventDefault();
    const { top, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    this.over.set(event.clientY < top + height / 2 ? 'before' : 'after');
  }

  protected dropHere(event: DragEvent): void {
    const where = this.over();
    this.over.set(null);
    if (where === null) return;
    event.preventDefault();
    this.letDrop.emit(where);
  }

  /** Their wall clock, when it differs from the reader's. */
  protected readonly localTime = computed(() => {
    const theirs = this.user.timeOf(this.user.now(), this.row().zone);
    return theirs === this.user.timeOf(this.user.now()) ? null : theirs;
  });
}
