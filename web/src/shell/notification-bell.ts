import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { Api } from '../api/api';
import { reading } from '../api/reading';
import { BrowserNotices } from '../services/browser-notices';
import { ChangeStream } from '../services/change-stream';
import { ToldMenu } from './told-menu';

/** What I was told: tasks and people given to me, reminders, comments that name me. */
@Component({
  selector: 'kettle-notification-bell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, ToldMenu],
  template: `
    <span class="at">
      <button
        #bell
        matButton
        type="button"
        aria-haspopup="menu"
        (click)="open()"
        [attr.aria-label]="unread() > 0 ? texts.newNotifications(unread()) : texts.notifications"
      >
        <mat-icon svgIcon="bell" />
        @if (unread() > 0) {
          <span class="now">{{ unread() }}</span>
        }
      </button>
      @defer (when isAsked(); prefetch on hover(bell)) {
        <kettle-told-menu #toldMenu [told]="told()" />
      }
    </span>
  `,
  styles: `
    .at {
      position: relative;
    }
  `,
})
export class NotificationBell {
  protected readonly texts = {
    newNotifications: (unread: string | number) => $localize`${unread}:unread: new notifications`,
    notifications: $localize`Notifications`,
  };

  private readonly api = inject(Api);
  private readonly browser = inject(BrowserNotices);
  private readonly list = reading((_: null) => this.api.call('listNotifications'));
  protected readonly told = computed(() => this.list.value()?.notifications.slice(0, 12) ?? []);
  /** The menu comes when it is asked for the first time, and opens by itself then. */
  protected readonly isAsked = signal(false);
  private readonly menu = viewChild<ToldMenu>('toldMenu');
  protected readonly unread = computed(() => this.list.value()?.unread ?? 0);

  constructor() {
    this.list.read(null);
    effect(() => {
      const list = this.list.value();
      if (list !== null) untracked(() => this.browser.tell(list.notifications));
    });
    inject(ChangeStream)
      .mine('notification')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
  }

  protected open(): void {
    this.isAsked.set(true);
    this.menu()?.open();
    if (this.unread() > 0) this.api.call('readNotifications').subscribe({ error: () => undefined });
  }
}
