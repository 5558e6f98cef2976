import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ClosingSteps, Deal, DealRow } from '@kettle/contract';
import { Api } from '../../api/api';
import { field, formParts, RecordForm } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { ClosingStepList } from './closing-steps';
import { firstStepControls, FirstStepFields, nextOf } from './first-step';

/** Opens a deal again, with what happens next. */
@Component({
  selector: 'kettle-reopen-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatCheckboxModule, ClosingStepList, FirstStepFields],
  template: `
    <kettle-dialog-form [title]="texts.reopen(deal.name)" act="Reopen" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        <kettle-first-step [step]="form.controls.next" />
        @if (deal.agreementId) {
          <mat-checkbox i18n [formControl]="form.controls.withdrawAgreement" class="wide">
            delete the agreement made when it was won
          </mat-checkbox>
        }
      </div>
      @if (dropped(); as planned) {
        @if (planned.steps.length > 0) {
          <mat-checkbox i18n [formControl]="form.controls.bringBack">
            Plan again what was dropped when it closed:
          </mat-checkbox>
          <kettle-closing-steps [planned]="planned" />
        }
      }
    </kettle-dialog-form>
  `,
})
export class ReopenDealDialog {
  protected readonly texts = {
    reopen: (name: string | number) => $localize`${name}:name:: reopen`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ReopenDealDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly deal = inject<DealRow & Partial<Pick<Deal, 'agreementId'>>>(MAT_DIALOG_DATA);
  /** What closing dropped. */
  protected readonly dropped = signal<ClosingSteps | null>(null);
  protected readonly form = new RecordForm({
    next: firstStepControls(this.user.today(), $localize`take it up again`),
    withdrawAgreement: field(false),
    bringBack: field(true),
  });

  constructor() {
    this.api
      .call('closingSteps', { params: { id: this.deal.id } })
      .pipe(takeUntilDestroyed())
      .subscribe({ next: (planned) => this.dropped.set(planned), error: () => undefined });
  }

  protected save(): void {
    const { next, withdrawAgreement, bringBack } = this.form.controls;
    const isAnyDropped = (this.dropped()?.steps.length ?? 0) > 0;
    const body = {
      next: nextOf(next, this.user.minutes()),
      withdrawAgreement: withdrawAgreement.value,
      bringBack: bringBack.value && isAnyDropped,
    };
    this.form.send(
      body,
      (sent) => this.api.call('reopenDeal', { params: { id: this.deal.id }, body: sent }),
      () => this.dialog.close(),
    );
  }
}
