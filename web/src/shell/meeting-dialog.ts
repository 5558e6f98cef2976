import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { localMoment, sayMinute } from '@kettle/core/time';
import { Api, problemOf, type ApiProblem } from '../api/api';
import { fieldParts } from '../kit/field';
import { TimeField } from '../kit/time-field';
import { CurrentUser } from '../services/current-user';
import { Notices } from '../services/notices';

/** Puts a meeting into a gap of today. */
@Component({
  selector: 'kettle-meeting-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, fieldParts, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Put a meeting on today</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <mat-form-field class="wide">
            <mat-label>What</mat-label>
            <input matInput name="title" [(ngModel)]="title" maxlength="160" required />
          </mat-form-field>
          <kettle-time-field label="From" name="start" [(ngModel)]="start" required />
          <mat-form-field>
            <mat-label>Minutes</mat-label>
            <input matInput name="minutes" type="number" min="5" max="600" [(ngModel)]="minutes" required />
          </mat-form-field>
          <mat-form-field>
            <mat-label>Where</mat-label>
            <input matInput name="place" [(ngModel)]="place" maxlength="160" />
          </mat-form-field>
          <mat-form-field>
            <mat-label>Drive before, minutes</mat-label>
            <input matInput name="travel" type="number" min="0" max="480" [(ngModel)]="travel" />
          </mat-form-field>
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" [disabled]="!title.trim()">Put it there</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class MeetingDialog {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly dialog = inject(MatDialogRef<MeetingDialog>);
  private readonly asked = inject<{ startMinute: number; minutes: number }>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected title = '';
  protected place = '';
  protected start = sayMinute(this.asked.startMinute);
  protected minutes = this.asked.minutes;
  protected travel = 0;

  protected save(): void {
    const [hour = 0, minute = 0] = this.start.split(':').map(Number);
    const at = (minutes: number) => localMoment(this.user.today(), minutes, this.user.zone());
    const startMinute = hour * 60 + minute;
    const times = { startsAt: at(startMinute), endsAt: at(startMinute + Number(this.minutes)) };
    const body = {
      title: this.title,
      place: this.place || null,
      travelMinutes: Number(this.travel) || 0,
      ...times,
    };
    this.api.call('createMeeting', { body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}

@Component({
  selector: 'kettle-remove-meeting-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.title }}</h2>
    <mat-dialog-content><p>Taking it off the day gives its minutes back to the Round.</p></mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="outlined" mat-dialog-close>Keep it</button>
      <button matButton="outlined" (click)="remove()">Remove</button>
    </mat-dialog-actions>
  `,
})
export class RemoveMeetingDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialogRef<RemoveMeetingDialog>);
  protected readonly asked = inject<{ id: string; title: string }>(MAT_DIALOG_DATA);

  protected remove(): void {
    this.api.call('removeMeeting', { params: { id: this.asked.id } }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
