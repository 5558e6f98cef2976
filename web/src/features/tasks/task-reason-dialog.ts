import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { DayField } from '../../kit/day-field';
import { fieldParts } from '../../kit/field';
import { CurrentUser } from '../../services/current-user';

interface Asked {
  readonly ask: 'day' | 'reason';
  readonly name: string;
  readonly dueOn?: string;
  readonly repeats?: string | null;
}

/** Asks for the one thing that moving or dropping a task needs: the new day, or the reason. */
@Component({
  selector: 'kettle-task-reason-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, DayField, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.ask === 'day' ? 'Defer' : 'Drop' }}: {{ asked.name }}</h2>
    <form (ngSubmit)="done()">
      <mat-dialog-content>
        @if (asked.ask === 'day') {
          <kettle-day-field
            label="To"
            name="day"
            warns
            [min]="user.today()"
            [(ngModel)]="answer"
            required
            cdkFocusInitial
          />
        } @else {
          <mat-form-field>
            <mat-label>Reason</mat-label>
            <input matInput name="reason" [(ngModel)]="answer" maxlength="300" required cdkFocusInitial />
          </mat-form-field>
        }
        @if (asked.repeats) {
          <p class="soft">It does not come again.</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" [disabled]="!answer">{{ asked.ask === 'day' ? 'Defer' : 'Drop' }}</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class TaskReasonDialog {
  private readonly dialog = inject(MatDialogRef<TaskReasonDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected answer = this.asked.ask === 'day' ? (this.asked.dueOn ?? '') : '';

  protected done(): void {
    if (this.answer.trim()) this.dialog.close(this.answer.trim());
  }
}
