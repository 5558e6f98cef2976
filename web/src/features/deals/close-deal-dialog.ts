import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Deal } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../shell/here';

/** Won with its date, or lost with its date and reason. */
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
            <span>On</span>
            <input name="on" type="date" [max]="here.today()" [(ngModel)]="on" required />
            @if (problem()?.of('on'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          @if (asked.as === 'lost') {
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
        <button class="act main">{{ asked.as === 'won' ? 'It is won' : 'It is lost' }}</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class CloseDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CloseDealDialog>);
  protected readonly here = inject(Here);
  protected readonly asked = inject<{ deal: Deal; as: 'won' | 'lost' }>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected on = this.here.today();
  protected reason = '';

  protected save(): void {
    const { deal, as } = this.asked;
    const shared = { version: deal.version, on: this.on };
    const body =
      as === 'won' ? ({ as, ...shared } as const) : ({ as, ...shared, reason: this.reason } as const);
    this.api.call('closeDeal', { params: { id: deal.id }, body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
