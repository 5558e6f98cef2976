import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
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
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.ask === 'day' ? 'Defer' : 'Drop' }}: {{ asked.name }}</h2>
    <form (ngSubmit)="done()">
      <mat-dialog-content>
        <label class="field" for="answer">
          @if (asked.ask === 'day') {
            <span>To</span>
            <input
              id="answer"
              name="day"
              type="date"
              [min]="user.today()"
              [(ngModel)]="answer"
              required
              cdkFocusInitial
            />
          } @else {
            <span>Because</span>
            <input id="answer" name="reason" [(ngModel)]="answer" maxlength="300" required cdkFocusInitial />
          }
        </label>
        @if (asked.repeats) {
          <p class="soft">It does not come again.</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main" [disabled]="!answer">{{ asked.ask === 'day' ? 'Defer' : 'Drop' }}</button>
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
