import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Channel, Deal, DealRow } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../shell/here';

/** Opens a deal again, with what happens next. */
@Component({
  selector: 'kettle-reopen-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ deal.name }}: open again</h2>
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
            <input name="on" type="date" [min]="here.today()" [(ngModel)]="on" required />
            @if (problem()?.of('next.dueOn'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field wide">
            <span>What for</span>
            <input name="purpose" [(ngModel)]="purpose" maxlength="200" required />
            @if (problem()?.of('next.purpose'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          @if (deal.agreementId) {
            <label class="wide">
              <input type="checkbox" name="withdraw" [(ngModel)]="withdraws" />
              the agreement made when it was won goes, too
            </label>
          }
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Leave it</button>
        <button class="act main">Open it again</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class ReopenDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ReopenDealDialog>);
  protected readonly here = inject(Here);
  protected readonly deal = inject<DealRow & Partial<Pick<Deal, 'agreementId'>>>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected channel: Channel = 'call';
  protected on = this.here.today();
  protected purpose = 'take it up again';
  protected withdraws = false;

  protected save(): void {
    const { channel, on: dueOn, purpose } = this;
    const next = { kind: 'task', channel, dueOn, promisedMinute: null, purpose, minutes: 6 } as const;
    const body = { version: this.deal.version, next, withdrawAgreement: this.withdraws };
    this.api.call('reopenDeal', { params: { id: this.deal.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
