import { inject, Injectable } from '@angular/core';
import type { RoundRow } from '@kettle/contract';
import { sayMinute } from '@kettle/core/time';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { LateDialog } from '../../kit/late-dialog';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** Gives a row of the Round a time of today: its task is promised for then; a row that is no task becomes one. */
@Injectable({ providedIn: 'root' })
export class PlaceInDay {
  private readonly api = inject(Api);
  private readonly dialogs = inject(LateDialog);
  private readonly user = inject(CurrentUser);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);

  /** Asks for the time; nothing happens when that is left. */
  async ask(row: RoundRow, after: () => void = () => undefined): Promise<void> {
    const { TimeDialog } = await import('./time-dialog');
    const opened = await this.dialogs.open<unknown, RoundRow, number>(TimeDialog, {
      data: row,
      width: '400px',
    });
    const minute = await firstValueFrom(opened.afterClosed());
    if (minute !== undefined) await this.place(row, minute, after);
  }

  /** @param minute of the reader's day */
  async place(row: RoundRow, minute: number, after: () => void = () => undefined): Promise<void> {
    const changeId = v7();
    try {
      await firstValueFrom(this.send(row, minute, changeId));
      this.undo.offer(
        $localize`${row.contactName}:name:: today at ${sayMinute(minute)}:time:.`,
        changeId,
        after,
      );
    } catch (error) {
      this.notices.problem(error);
    }
    after();
  }

  private send(row: RoundRow, promisedMinute: number, changeId: string): Observable<unknown> {
    const dueOn = this.user.today();
    if (row.taskId !== null && row.taskVersion !== null)
      return this.api.call(
        'changeTask',
        { params: { id: row.taskId }, body: { version: row.taskVersion, dueOn, promisedMinute } },
        changeId,
      );
    const { channel, purpose, minutes, contactId, dealId } = row;
    return this.api.call(
      'createTask',
      { body: { channel, purpose, minutes, contactId, dealId, dueOn, promisedMinute } },
      changeId,
    );
  }
}

/**
 * Where a row that is let go over a gap begins: at the five minutes under the hand, and early enough to end with the gap where it fits at all.
 * @param share how far down the gap the hand is, from 0 to 1
 * @example beginningIn({ startMinute: 600, minutes: 90 }, 0.5, 30) is 645; beginningIn({ startMinute: 600, minutes: 90 }, 1, 30) is 660
 */
export function beginningIn(
  gap: { readonly startMinute: number; readonly minutes: number },
  share: number,
  length: number,
): number {
  const grain = 5;
  const first = Math.ceil(gap.startMinute / grain) * grain;
  const asked = Math.round((gap.startMinute + share * gap.minutes) / grain) * grain;
  const last = Math.floor((gap.startMinute + gap.minutes - length) / grain) * grain;
  return Math.max(first, Math.min(asked, last));
}
