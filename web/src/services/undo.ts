import { inject, Injectable } from '@angular/core';
import { concat, toArray } from 'rxjs';
import { Api } from '../api/api';
import { Notices } from './notices';

/** Says what was done with a way back: the change with all it did is undone, as long as nothing of it was changed since. */
@Injectable({ providedIn: 'root' })
export class Undo {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);

  /**
   * @param changeIds the ids the changes were sent under, in their order
   * @param then what the page does once they are undone
   */
  offer(words: string, changeIds: string | readonly string[], then?: () => void): void {
    this.notices.say(words, () => this.changes(changeIds, then));
  }

  /** The last change first. What can no longer be undone says why. */
  changes(changeIds: string | readonly string[], then?: () => void): void {
    const ids = typeof changeIds === 'string' ? [changeIds] : [...changeIds].reverse();
    concat(...ids.map((id) => this.api.call('undoChange', { params: { id } })))
      .pipe(toArray())
      .subscribe({
        next: () => {
          this.notices.say($localize`Undone.`);
          then?.();
        },
        error: (error: unknown) => {
          this.notices.problem(error);
          then?.();
        },
      });
  }
}
