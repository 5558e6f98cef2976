import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Contact, Deal } from '@kettle/contract';
import { readMoney } from '@kettle/core/money';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';

/** Gives a customer an agreement: what, from when, for how long, worth how much, with how much notice. */
@Component({
  selector: 'kettle-agreement-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Agreement with {{ asked.contact.companyName ?? asked.contact.name }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <label class="field wide">
            <span>What they have bought</span>
            <input name="name" [(ngModel)]="name" maxlength="160" required cdkFocusInitial />
            @if (problem()?.of('name'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Starts</span>
            <input name="startsOn" type="date" [(ngModel)]="startsOn" required />
            @if (problem()?.of('startsOn'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Months</span>
            <input name="termMonths" type="number" min="1" max="120" [(ngModel)]="termMonths" required />
            @if (problem()?.of('termMonths'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Value of the term</span>
            <span class="with-unit">
              <input name="value" inputmode="decimal" [(ngModel)]="value" required />
              @if (user.currencies().length > 1) {
                <select name="currency" aria-label="Currency" [(ngModel)]="currency">
                  @for (each of user.currencies(); track each) {
                    <option [value]="each">{{ each }}</option>
                  }
                </select>
              }
            </span>
            @if (valueWrong() ?? problem()?.of('valueMinor'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Notice, days before the end</span>
            <input name="noticeDays" type="number" min="0" max="730" [(ngModel)]="noticeDays" required />
            @if (problem()?.of('noticeDays'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="field">
            <span>Start talking, days before the notice</span>
            <input name="leadDays" type="number" min="0" max="730" [(ngModel)]="leadDays" required />
            @if (problem()?.of('leadDays'); as wrong) {
              <span class="wrong">{{ wrong }}</span>
            }
          </label>
          <label class="tick">
            <input name="renewsItself" type="checkbox" [(ngModel)]="renewsItself" />
            renews by itself
          </label>
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main">Make the agreement</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    .tick {
      display: flex;
      align-items: center;
      gap: var(--space-2);
      align-self: end;
      min-block-size: 32px;
    }
  `,
})
export class AgreementDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AgreementDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<{ contact: Contact; deal: Deal | null }>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly valueWrong = signal<string | null>(null);
  protected name = this.asked.deal?.name ?? '';
  protected startsOn = this.user.today();
  protected termMonths = 12;
  protected value = this.asked.deal ? String(this.asked.deal.amountMinor / 100) : '';
  protected currency = this.asked.deal?.currency ?? this.user.currency();
  protected noticeDays = 60;
  protected leadDays = 30;
  protected renewsItself = true;

  protected save(): void {
    const valueMinor = readMoney(this.value);
    this.valueWrong.set(valueMinor === null ? 'must be an amount such as 1,200' : null);
    if (valueMinor === null) return;
    const { name, startsOn, termMonths, noticeDays, leadDays, renewsItself, asked } = this;
    const body = {
      name,
      startsOn,
      termMonths,
      noticeDays,
      leadDays,
      renewsItself,
      valueMinor,
      currency: this.currency,
      contactId: asked.contact.id,
      dealId: asked.deal?.id ?? null,
    };
    this.api.call('createAgreement', { body }).subscribe({
      next: () => this.dialog.close(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
