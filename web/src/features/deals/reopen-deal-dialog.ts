import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
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
  imports: [
    MatCheckboxModule,
    MatButtonModule,
    ClosingStepList,
    FormsModule,
    MatDialogModule,
    FirstStepFields,
  ],
  template: `
    <h2 mat-dialog-title>{{ deal.name }}: reopen</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <kettle-first-step [(step)]="next" [problem]="problem()" />
          @if (deal.agreementId) {
            <mat-checkbox name="withdraw" [(ngModel)]="withdraws" class="wide">
              delete the agreement made when it was won
            </mat-checkbox>
          }
        </div>
        @if (dropped(); as planned) {
          @if (planned.steps.length > 0) {
            <mat-checkbox name="bringBack" [(ngModel)]="bringsBack" class="back">
              Plan again what was dropped when it closed:
            </mat-checkbox>
            <kettle-closing-steps [planned]="planned" />
          }
        }
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Reopen</button>
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
