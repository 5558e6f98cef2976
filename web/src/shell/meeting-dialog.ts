import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { localMoment, sayMinute } from '@kettle/core/time';
import { Api, problemOf, type ApiProblem } from '../api/api';
import { CurrentUser } from '../services/current-user';
import { Notices } from '../services/notices';

/** Puts a meeting into a gap of today. */
@Component({
  selector: 'kettle-meeting-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Put a meeting on today</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <label class="field wide">
            <span>What</span>
            <input name="title" [(ngModel)]="title" maxlength="160" required />
          </label>
          <label class="field">
            <span>From</span>
            <input name="start" type="time" [(ngModel)]="start" required />
          </label>
          <label class="field">
            <span>Minutes</span>
            <input name="minutes" type="number" min="5" max="600" [(ngModel)]="minutes" required />
          </label>
          <label class="field">
            <span>Where</span>
            <input name="place" [(ngModel)]="place" maxlength="160" />
          </label>
          <label class="field">
            <span>Drive before, minutes</span>
            <input name="travel" type="number" min="0" max="480" [(ngModel)]="travel" />
          </label>
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main" [disabled]="!title.trim()">Put it there</button>
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
  imports: [MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.title }}</h2>
    <mat-dialog-content><p>Taking it off the day gives its minutes back to the Round.</p></mat-dialog-content>
    <mat-dialog-actions align="end">
      <button class="act" mat-dialog-close>Keep it</button>
      <button class="act" (click)="remove()">Remove</button>
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
