import { ChangeDetectionStrategy, Component, inject, input, viewChild } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import type { ReplyOf } from '@kettle/contract';
import { MenuAnchor } from '../kit/menu-anchor';
import { MomentPipe } from '../kit/say.pipes';

/** What somebody was told, the newest first; a line leads to what it is about. */
@Component({
  selector: 'kettle-told-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatMenuModule, MenuAnchor, MomentPipe],
  template: `
    <span [kettleMenuAnchor]="menu"></span>
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
    .soft {
      margin-inline-start: var(--space-2);
    }
  `,
})
export class ToldMenu {
  private readonly router = inject(Router);
  readonly told = input.required<ReplyOf<'listNotifications'>['notifications']>();
  private readonly anchor = viewChild.required(MenuAnchor);

  open(): void {
    this.anchor().open();
  }

  protected go(path: string): void {
    void this.router.navigateByUrl(path);
  }
}
