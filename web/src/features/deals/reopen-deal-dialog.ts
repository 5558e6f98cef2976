import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ClosingSteps, Deal, DealRow } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { ClosingStepList } from './closing-steps';
import { FirstStepFields, nextOf, type FirstStep } from './first-step';

/** Opens a deal again, with what happens next. */
@Component({
  selector: 'kettle-reopen-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ClosingStepList, FormsModule, MatDialogModule, FirstStepFields],
  template: `
    <h2 mat-dialog-title>{{ deal.name }}: open again</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <kettle-first-step [(step)]="next" [problem]="problem()" />
          @if (deal.agreementId) {
            <label class="wide">
              <input type="checkbox" name="withdraw" [(ngModel)]="withdraws" />
              delete the agreement made when it was won
            </label>
          }
        </div>
        @if (dropped(); as planned) {
          @if (planned.steps.length > 0) {
            <label class="back">
              <input type="checkbox" name="bringBack" [(ngModel)]="bringsBack" />
              Plan again what was dropped when it closed:
            </label>
            <kettle-closing-steps [planned]="planned" />
          }
        }
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main">Open it again</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    .back {
      display: block;
      padding-block-start: var(--space-3);
    }
  `,
})
export class ReopenDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ReopenDealDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly deal = inject<DealRow & Partial<Pick<Deal, 'agreementId'>>>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly next = signal<FirstStep>({
    channel: 'call',
    dueOn: this.user.today(),
    purpose: 'take it up again',
  });
  /** What closing dropped. */
  protected readonly dropped = signal<ClosingSteps | null>(null);
  protected withdraws = false;
  protected bringsBack = true;

  constructor() {
    this.api
      .call('closingSteps', { params: { id: this.deal.id } })
      .pipe(takeUntilDestroyed())
      .subscribe({ next: (planned) => this.dropped.set(planned), error: () => undefined });
  }

  protected save(): void {
    const next = nextOf(this.next());
    const bringBack = this.bringsBack && (this.dropped()?.steps.length ?? 0) > 0;
    const body = { next, withdrawAgreement: this.withdraws, bringBack };
    this.api.call('reopenDeal', { params: { id: this.deal.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
