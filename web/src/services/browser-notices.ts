import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import type { Notification as Told } from '@kettle/contract';

/** Whether the browser may tell what comes in; `none` where it cannot at all. */
export type Permission = NotificationPermission | 'none';

/** What somebody is told, by the browser itself, while the page is not looked at and where they allowed it. */
@Injectable({ providedIn: 'root' })
export class BrowserNotices {
  private readonly router = inject(Router);
  /** The newest that was there when the page was opened, or that was told since; null before either. */
  private newest: string | null = null;

  permission(): Permission {
    return typeof Notification === 'undefined' ? 'none' : Notification.permission;
  }

  ask(): Promise<Permission> {
    return typeof Notification === 'undefined' ? Promise.resolve('none') : Notification.requestPermission();
  }

  /**
   * Tells what is new since the last time, and not what was there when the page was opened.
   * @param told the newest first
   */
  tell(told: readonly Told[]): void {
    const before = this.newest;
    this.newest = told[0]?.at ?? before ?? '';
    if (before === null || this.permission() !== 'granted' || !document.hidden) return;
    const fresh = told.filter(({ at, isRead, byBrowser }) => at > before && !isRead && byBrowser);
    // The oldest first, so that the newest lies on top.
    for (const { id, words, path } of [...fresh].reverse()) {
      // The same tag again is the same notice, in however many tabs it comes in.
      const notice = new Notification('Ash Kettle', { body: words, tag: id });
      notice.addEventListener('click', () => {
        window.focus();
        notice.close();
        void this.router.navigateByUrl(path);
      });
    }
  }
}
