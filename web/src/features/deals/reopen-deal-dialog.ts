import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Deal, DealRow } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../services/here';
import { FirstStepFields, nextOf, type FirstStep } from './first-step';

/** Opens a deal again, with what happens next. */
@Component({
  selector: 'kettle-reopen-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule, FirstStepFields],
  template: `
    <h2 mat-dialog-title>{{ deal.name }}: open again</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <kettle-first-step [(step)]="next" [problem]="problem()" />
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
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly next = signal<FirstStep>({
    channel: 'call',
    dueOn: this.here.today(),
    purpose: 'take it up again',
  });
  protected withdraws = false;
  private version = this.deal.version;

  protected save(): void {
    const next = nextOf(this.next());
    const body = { version: this.version, next, withdrawAgreement: this.withdraws };
    this.api.call('reopenDeal', { params: { id: this.deal.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        // Changed meanwhile, and still closed: the next try goes over it, knowingly.
        if (problem.code === 'stale') this.version = (problem.current as DealRow).version;
      },
    });
  }
}
