import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, DealRow } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../shell/here';

const usualParkedDays = 30;

/** Won with its date, lost with its date and reason, or parked until a day with its reason. */
@Component({
  selector: 'kettle-close-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.deal.name }}: {{ asked.as }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <label class="field">
            <span>{{ asked.as === 'parked' ? 'Back in the Round on' : 'On' }}</span>
            <input name="on" type="date" [min]="earliest" [max]="latest" [(ngModel)]="on" required />
            @if (problem()?.of('on') ?? problem()?.of('wakeOn'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          @if (asked.as !== 'won') {
            <label class="field wide">
              <span>Why</span>
              <input name="reason" [(ngModel)]="reason" maxlength="300" required />
              @if (problem()?.of('reason'); as wrong) {
                <span class="wrong">{{ wrong }}</span>
              }
            </label>
          }
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Leave it</button>
        <button class="act main">{{ asked.as === 'parked' ? 'Park it' : 'It is ' + asked.as }}</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class CloseDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CloseDealDialog>);
  protected readonly here = inject(Here);
  protected readonly asked = inject<{ deal: DealRow; as: 'won' | 'lost' | 'parked' }>(MAT_DIALOG_DATA);
  protected readonly earliest = this.asked.as === 'parked' ? addDays(this.here.today(), 1) : null;
  protected readonly latest = this.asked.as === 'parked' ? null : this.here.today();
  protected readonly problem = signal<ApiProblem | null>(null);
  protected on = this.asked.as === 'parked' ? addDays(this.here.today(), usualParkedDays) : this.here.today();
  protected reason = '';

  protected save(): void {
    const { deal } = this.asked;
    const body = this.body();
    this.api.call('closeDeal', { params: { id: deal.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private body(): NonNullable<CallOf<'closeDeal'>['body']> {
    const { deal, as } = this.asked;
    const { version } = deal;
    if (as === 'won') return { as, version, on: this.on };
    return as === 'lost'
      ? { as, version, on: this.on, reason: this.reason }
      : { as, version, wakeOn: this.on, reason: this.reason };
  }
}
