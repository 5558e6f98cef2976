import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_BOTTOM_SHEET_DATA, MatBottomSheetRef } from '@angular/material/bottom-sheet';
import { MatIcon } from '@angular/material/icon';
import { MatListModule } from '@angular/material/list';

interface Entry {
  readonly path: string;
  readonly name: string;
  readonly icon: string;
}

export interface MoreAsked {
  readonly places: readonly Entry[];
}

/** What does not stand in the bar at the foot of a phone. It answers with an address, or with `day` or `sign-out`. */
@Component({
  selector: 'kettle-more-sheet',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon, MatListModule],
  template: `
    <mat-nav-list aria-label="More" i18n-aria-label>
      @for (entry of entries; track entry.path) {
        <button mat-list-item type="button" (click)="sheet.dismiss(entry.path)">
          <mat-icon matListItemIcon [svgIcon]="entry.icon" aria-hidden="true" />
          <span matListItemTitle>{{ entry.name }}</span>
        </button>
      }
    </mat-nav-list>
  `,
  styles: `
    button {
      border: 0;
      background: none;
      font: inherit;
      text-align: start;
    }
  `,
})
export class MoreSheet {
  protected readonly sheet = inject<MatBottomSheetRef<MoreSheet, string>>(MatBottomSheetRef);
  private readonly asked = inject<MoreAsked>(MAT_BOTTOM_SHEET_DATA);
  protected readonly entries: readonly Entry[] = [
    { path: 'day', name: $localize`Day`, icon: 'clock' },
    { path: '/tasks', name: $localize`Tasks`, icon: 'task' },
    ...this.asked.places,
    { path: '/changes', name: $localize`Recent changes`, icon: 'undo' },
    { path: '/settings', name: $localize`Settings`, icon: 'settings' },
    { path: 'sign-out', name: $localize`Sign out`, icon: 'leave' },
  ];
}
