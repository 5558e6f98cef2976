import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Contact, Deal } from '@kettle/contract';
import { readMoney } from '@kettle/core/money';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';

/** Gives a customer an agreement: what, from when, for how long, worth how much, with how much notice. */
@Component({
  selector: 'kettle-agreement-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, choiceParts, MatCheckboxModule, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Agreement with {{ asked.contact.companyName ?? asked.contact.name }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <mat-form-field class="wide">
            <mat-label>What they have bought</mat-label>
            <input
              matInput
              name="name"
              [(ngModel)]="name"
              maxlength="160"
              required
              cdkFocusInitial
              [kettleProblem]="problem()?.of('name')"
            />
            @if (problem()?.of('name'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <kettle-day-field
            label="Starts"
            name="startsOn"
            [(ngModel)]="startsOn"
            required
            [problem]="problem()?.of('startsOn')"
          />
          <mat-form-field>
            <mat-label>Months</mat-label>
            <input
              matInput
              name="termMonths"
              type="number"
              min="1"
              max="120"
              [(ngModel)]="termMonths"
              required
              [kettleProblem]="problem()?.of('termMonths')"
            />
            @if (problem()?.of('termMonths'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <div class="with-unit">
            <mat-form-field>
              <mat-label>Value of the term</mat-label>
              <input
                matInput
                name="value"
                inputmode="decimal"
                [(ngModel)]="value"
                required
                [kettleProblem]="valueWrong() ?? problem()?.of('valueMinor')"
              />
              @if (valueWrong() ?? problem()?.of('valueMinor'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
            @if (user.currencies().length > 1) {
              <mat-form-field class="unit">
                <mat-label>Currency</mat-label>
                <mat-select name="currency" [(ngModel)]="currency">
                  @for (each of user.currencies(); track each) {
                    <mat-option [value]="each">{{ each }}</mat-option>
                  }
                </mat-select>
              </mat-form-field>
            }
          </div>
          <mat-form-field>
            <mat-label>Notice, days before the end</mat-label>
            <input
              matInput
              name="noticeDays"
              type="number"
              min="0"
              max="730"
              [(ngModel)]="noticeDays"
              required
              [kettleProblem]="problem()?.of('noticeDays')"
            />
            @if (problem()?.of('noticeDays'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <mat-form-field>
            <mat-label>Start talking, days before the notice</mat-label>
            <input
              matInput
              name="leadDays"
              type="number"
              min="0"
              max="730"
              [(ngModel)]="leadDays"
              required
              [kettleProblem]="problem()?.of('leadDays')"
            />
            @if (problem()?.of('leadDays'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <mat-checkbox name="renewsItself" [(ngModel)]="renewsItself" class="tick">
            renews by itself
          </mat-checkbox>
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Make the agreement</button>
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
