import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { CallOf, MailBox, MailRow } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { type Observable, of, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { GridPicks, GridStore } from '../grid/index';
import type { FilePicked } from './file-picked-dialog';

const mostAtOnce = 500;

interface Moved {
  readonly moved: number;
  readonly left: number;
}

/** What is done with picked mails: filed with one person, dismissed, or back among those to file. */
@Component({
  selector: 'kettle-move-picked',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (picks.count() > most) {
      <span i18n class="soft">At most {{ most }} are moved at once.</span>
    } @else if (box() === 'unfiled' || box() === 'let-go') {
      <button i18n matButton="outlined" type="button" (click)="file()">File with …</button>
      @if (box() === 'unfiled') {
        <button i18n matButton="outlined" type="button" (click)="move('let-go')">Dismiss</button>
      } @else {
        <button i18n matButton="outlined" type="button" (click)="move('unfiled')">Back to file</button>
      }
    } @else {
      <span i18n class="soft">What is filed, sent or waiting stays where it is.</span>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class MovePicked {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly store = inject<GridStore<MailRow>>(GridStore);
  protected readonly picks = inject<GridPicks<MailRow>>(GridPicks);
  readonly box = input.required<MailBox>();
  protected readonly most = mostAtOnce;

  /** Whether there is something picked that can be moved from this box. */
  canMove(): boolean {
    const count = this.picks.count();
    return count > 0 && count <= mostAtOnce && (this.box() === 'unfiled' || this.box() === 'let-go');
  }

  move(to: 'let-go' | 'unfiled'): void {
    const changeId = v7();
    this.ids()
      .pipe(
        switchMap((ids) =>
          this.api.call('moveMail', { body: { to, ids } as CallOf<'moveMail'>['body'] }, changeId),
        ),
      )
      .subscribe({
        next: (moved) =>
          this.done(moved, to === 'let-go' ? $localize`dismissed` : $localize`back to file`, changeId),
        error: (error: unknown) => this.notices.problem(error),
      });
  }

  file(): void {
    this.ids().subscribe({
      next: (ids) => void this.ask(ids),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private async ask(ids: readonly string[]): Promise<void> {
    const { FilePickedDialog } = await import('./file-picked-dialog');
    const data: FilePicked = { ids, words: this.say(ids.length), changeId: v7() };
    this.dialog
      .open(FilePickedDialog, { data, width: '420px' })
      .afterClosed()
      .subscribe((moved: Moved | undefined) => {
        if (moved) this.done(moved, $localize`filed`, data.changeId);
      });
  }

  private ids(): Observable<readonly string[]> {
    return this.picks.isAll() ? this.store.ids() : of([...this.picks.ids()]);
  }

  private readonly say = (count: number) => sayCount(count, $localize`mail|mails`);

  private done({ moved, left }: Moved, what: string, changeId: string): void {
    const stayed = left > 0 ? $localize`; ${left}:left: had left the box meanwhile` : '';
    this.undo.offer(`${this.say(moved)} ${what}${stayed}.`, changeId, () => this.store.again());
    this.picks.none();
    this.store.again();
  }
}
