import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { RoundRow } from '@kettle/contract';
import { addDays, isoWeekday, sayDay } from '@kettle/core/time';
import { DayField } from '../../kit/day-field';
import { fieldParts } from '../../kit/field';
import { CurrentUser } from '../../services/current-user';

/** Asks for the day a row is deferred to; answers with the date. */
@Component({
  selector: 'kettle-defer-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, DayField, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Defer {{ row.contactName }}</h2>
    <mat-dialog-content>
      <div class="days">
        @for (day of days; track day) {
          <button matButton="outlined" type="button" (click)="dialog.close(day)">{{ say(day) }}</button>
        }
      </div>
      <form id="defer" (ngSubmit)="date && dialog.close(date)">
        <kettle-day-field label="Another day" name="date" [min]="tomorrow" [(ngModel)]="date" />
      </form>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
      <button matButton="filled" form="defer" [disabled]="!date || date < tomorrow">Defer</button>
    </mat-dialog-actions>
  `,
  styles: `
    .days {
      display: grid;
      gap: 6px;
      padding-block-end: var(--space-3);
    }
  `,
})
export class DeferDialog {
  protected readonly row = inject<RoundRow>(MAT_DIALOG_DATA);
  protected readonly dialog = inject(MatDialogRef<DeferDialog, string>);
  private readonly today = inject(CurrentUser).today();
  protected readonly tomorrow = addDays(this.today, 1);
  protected readonly days = [
    ...new Set([this.row.moveTo ?? this.working(1), this.working(1), this.working(3), this.working(7)]),
  ];
  protected date = '';

  protected say(day: string): string {
    return sayDay(day, this.today);
  }

  /** A day so far ahead, moved past the weekend; the server knows the holidays. */
  private working(ahead: number): string {
    const day = addDays(this.today, ahead);
    return addDays(day, isoWeekday(day) <= 5 ? 0 : 8 - isoWeekday(day));
  }
}

/** Asks why a task is dropped; answers with the reason. */
@Component({
  selector: 'kettle-drop-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Drop “{{ row.purpose }}”</h2>
    <mat-dialog-content>
      <form id="drop" (ngSubmit)="reason.trim() && dialog.close(reason.trim())">
        <mat-form-field>
          <mat-label>Why</mat-label>
          <input matInput name="reason" maxlength="300" [(ngModel)]="reason" required />
        </mat-form-field>
      </form>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="outlined" type="button" mat-dialog-close>Keep it</button>
      <button matButton="filled" form="drop" [disabled]="!reason.trim()">Drop it</button>
    </mat-dialog-actions>
  `,
})
export class DropDialog {
  protected readonly row = inject<RoundRow>(MAT_DIALOG_DATA);
  protected readonly dialog = inject(MatDialogRef<DropDialog, string>);
  protected reason = '';
}
