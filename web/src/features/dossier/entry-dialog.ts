import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { JournalEntry } from '@kettle/contract';
import { localMoment, sayMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { Conflicts, Submission } from '../../kit/conflicts';
import { DayField } from '../../kit/day-field';
import { fieldParts } from '../../kit/field';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';
import { RichBox } from './rich-box';

/** Changes what an entry says, when it was and how long it took. What it said before is kept. */
@Component({
  selector: 'kettle-entry-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    TimeField,
    fieldParts,
    DayField,
    MatButtonModule,
    Conflicts,
    FormsModule,
    MatDialogModule,
    RichBox,
  ],
  template: `
    <h2 mat-dialog-title>Edit the entry</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        @if (before.isRich) {
          <kettle-rich-box [text]="before.body" (changed)="body = $event" (done)="save()" />
        } @else {
          <mat-form-field>
            <mat-label>What was said</mat-label>
            <textarea matInput name="body" rows="5" [(ngModel)]="body" cdkFocusInitial></textarea>
          </mat-form-field>
        }
        <div class="form-grid">
          <kettle-day-field label="On" name="on" [max]="user.today()" [(ngModel)]="on" required />
          <kettle-time-field label="At" name="at" [(ngModel)]="at" required />
          @if (before.kind !== 'note') {
            <mat-form-field>
              <mat-label>Minutes</mat-label>
              <input matInput name="minutes" type="number" min="0" max="1440" [(ngModel)]="minutes" />
            </mat-form-field>
          }
        </div>
        @if (submission.problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.of('body') ?? wrong.of('at') ?? wrong.message }}</p>
        }
        <kettle-conflicts
          [problem]="submission.problem()"
          [sent]="submission.sent()"
          [label]="label"
          [say]="say"
          [(choices)]="submission.choices"
        />
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Save</button>
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
  protected readonly submission = new Submission();
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
    const body = this.submission.bodyOf({
      version: this.before.version,
      body: this.body,
      at,
      minutes: this.minutes || null,
    });
    this.api.call('editEntry', { params: { id: this.before.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: this.submission.refuse,
    });
  }

  protected readonly label = (path: string): string | null =>
    ({ body: 'What was said', at: 'When it was', minutes: 'Minutes' })[path] ?? null;

  protected readonly say = (path: string, value: unknown): string | null => {
    if (path === 'at') return `${this.user.dateOf(String(value))} ${this.user.timeOf(String(value))}`;
    // Rich text is said without its shape.
    return path === 'body' && this.before.isRich
      ? (new DOMParser().parseFromString(String(value), 'text/html').body.textContent ?? '')
      : null;
  };
}
