import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { JournalEntry } from '@kettle/contract';
import { localMoment, sayMinute } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { RichBox } from './rich-box';

/** Changes what an entry says, when it was and how long it took. What it said before is kept. */
@Component({
  selector: 'kettle-entry-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule, RichBox],
  template: `
    <h2 mat-dialog-title>Edit the entry</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        @if (before.isRich) {
          <kettle-rich-box [text]="before.body" (changed)="body = $event" (done)="save()" />
        } @else {
          <label class="field">
            <span>What was said</span>
            <textarea name="body" rows="5" [(ngModel)]="body" cdkFocusInitial></textarea>
          </label>
        }
        <div class="form-grid">
          <label class="field">
            <span>On</span>
            <input name="on" type="date" [max]="user.today()" [(ngModel)]="on" required />
          </label>
          <label class="field">
            <span>At</span>
            <input name="at" type="time" [(ngModel)]="at" required />
          </label>
          @if (before.kind !== 'note') {
            <label class="field">
              <span>Minutes</span>
              <input name="minutes" type="number" min="0" max="1440" [(ngModel)]="minutes" />
            </label>
          }
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        @if (theirs(); as other) {
          <p class="soft">Theirs: {{ other.body }}. Saving again puts yours in its place.</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main">Save</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class EntryDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<EntryDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly before = inject<JournalEntry>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly theirs = signal<JournalEntry | null>(null);
  private version = this.before.version;
  protected body = this.before.body;
  protected on = this.user.dateOf(this.before.at);
  protected at = sayMinute(this.user.minuteOf(this.before.at));
  protected minutes = this.before.minutes;

  protected save(): void {
    const [hour = 0, minute = 0] = this.at.split(':').map(Number);
    const isSameMoment =
      this.on === this.user.dateOf(this.before.at) &&
      hour * 60 + minute === this.user.minuteOf(this.before.at);
    const at = isSameMoment ? this.before.at : localMoment(this.on, hour * 60 + minute, this.user.zone());
    const body = { version: this.version, body: this.body, at, minutes: this.minutes || null };
    this.api.call('editEntry', { params: { id: this.before.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        if (problem.code !== 'stale') return;
        this.theirs.set(problem.current as JournalEntry);
        this.version = (problem.current as JournalEntry).version;
      },
    });
  }
}
