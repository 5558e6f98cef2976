import { ChangeDetectionStrategy, Component, inject, output, viewChild } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { RouterLink } from '@angular/router';
import { MenuAnchor } from '../kit/menu-anchor';
import { Theme } from '../services/theme';

/** What stands behind the name of whoever is signed in. */
@Component({
  selector: 'kettle-user-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatMenuModule, MenuAnchor, RouterLink],
  template: `
    <span [kettleMenuAnchor]="menu"></span>
    <mat-menu #menu="matMenu">
      <a i18n mat-menu-item routerLink="/tasks">Tasks</a>
      <a i18n mat-menu-item routerLink="/changes">Recent changes</a>
      <a i18n mat-menu-item routerLink="/settings">Settings</a>
      <button i18n mat-menu-item (click)="keys.emit()">Keys and words</button>
      <button i18n mat-menu-item (click)="theme.choose('light')">Light theme</button>
      <button i18n mat-menu-item (click)="theme.choose('dark')">Dark theme</button>
      <button i18n mat-menu-item (click)="theme.choose('system')">Use device theme</button>
      <button i18n mat-menu-item (click)="signOut.emit()">Sign out</button>
    </mat-menu>
  `,
})
export class UserMenu {
  protected readonly theme = inject(Theme);
  readonly keys = output();
  readonly signOut = output();
  private readonly anchor = viewChild.required(MenuAnchor);

  open(): void {
    this.anchor().open();
  }
}
