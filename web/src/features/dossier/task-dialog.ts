import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Channel } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../shell/here';

interface Asked {
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly name?: string;
}

/** Plans a next step by hand. */
@Component({
  selector: 'kettle-task-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Plan a step{{ asked.name ? ' with ' + asked.name : '' }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <label class="field">
            <span>How</span>
            <select name="channel" [(ngModel)]="channel">
              @for (name of channels; track name) {
                <option [value]="name">{{ labels[name] }}</option>
              }
            </select>
          </label>
          <label class="field">
            <span>When</span>
            <input name="dueOn" type="date" [min]="here.today()" [(ngModel)]="dueOn" required />
            @if (problem()?.of('dueOn'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field wide">
            <span>What for</span>
            <input name="purpose" [(ngModel)]="purpose" maxlength="200" required cdkFocusInitial />
            @if (problem()?.of('purpose'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Promised for a time?</span>
            <input name="promised" type="time" [(ngModel)]="promised" />
          </label>
          <label class="field">
            <span>Minutes</span>
            <input name="minutes" type="number" min="1" max="480" [(ngModel)]="minutes" />
            @if (problem()?.of('minutes'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Leave it</button>
        <button class="act main">Plan it</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class TaskDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<TaskDialog>);
  protected readonly here = inject(Here);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected channel: Channel = 'call';
  protected dueOn = this.here.today();
  protected purpose = '';
  protected promised = '';
  protected minutes = 6;

  protected save(): void {
    const [hour, minute] = this.promised.split(':').map(Number);
    const promisedMinute = hour === undefined || minute === undefined ? null : hour * 60 + minute;
    const { channel, dueOn, purpose, minutes } = this;
    const body = {
      channel,
      dueOn,
      purpose,
      minutes,
      promisedMinute,
      contactId: this.asked.contactId,
      dealId: this.asked.dealId,
    };
    this.api.call('createTask', { body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
