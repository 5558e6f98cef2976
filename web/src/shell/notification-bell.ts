import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import { Api } from '../api/api';
import { reading } from '../api/reading';
import { MomentPipe } from '../kit/say.pipes';
import { ChangeStream } from '../services/change-stream';

/** What I was told: tasks and people given to me, reminders, comments that name me. */
@Component({
  selector: 'kettle-notification-bell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, MatMenuModule, MomentPipe],
  template: `
    <button
      matButton
      type="button"
      [matMenuTriggerFor]="menu"
      (menuOpened)="seen()"
      [attr.aria-label]="unread() > 0 ? texts.newNotifications(unread()) : texts.notifications"
    >
      <mat-icon svgIcon="bell" />
      @if (unread() > 0) {
        <span class="now">{{ unread() }}</span>
      }
    </button>
    <mat-menu #menu="matMenu" class="told">
      @for (each of told(); track each.id) {
        <button mat-menu-item (click)="go(each.path)">
          <span [class.unread]="!each.isRead">{{ each.words }}</span>
          <span class="soft">{{ each.at | moment }}</span>
        </button>
      } @empty {
        <p i18n class="soft none">
          Nothing to tell. Tasks and people given to you, reminders and comments that name you come here.
        </p>
      }
    </mat-menu>
  `,
  styles: `
    .none {
      padding: 8px 16px;
      max-inline-size: 260px;
    }
    .unread {
      font-weight: 650;
    }
  `,
})
export class NotificationBell {
  protected readonly texts = {
    newNotifications: (unread: string | number) => $localize`${unread}:unread: new notifications`,
    notifications: $localize`Notifications`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly list = reading((_: null) => this.api.call('listNotifications'));
  protected readonly told = computed(() => this.list.value()?.notifications.slice(0, 12) ?? []);
  protected readonly unread = computed(() => this.list.value()?.unread ?? 0);

  constructor() {
    this.list.read(null);
    inject(ChangeStream)
      .of('notification')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
  }

  protected seen(): void {
    if (this.unread() > 0) this.api.call('readNotifications').subscribe({ error: () => undefined });
  }

  protected go(path: string): void {
    void this.router.navigateByUrl(path);
  }
}
