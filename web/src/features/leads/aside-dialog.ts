import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { LeadRow } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { fieldParts } from '../../kit/field';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from '../deals/index';

/** Sets a lead aside: why, and whether it comes back. */
@Component({
  selector: 'kettle-aside-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, DayField, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ lead.contactName }}: set aside</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <mat-form-field class="wide">
            <mat-label>Why</mat-label>
            <input
              matInput
              name="reason"
              [(ngModel)]="reason"
              maxlength="300"
              list="aside-reasons"
              autocomplete="off"
              required
              cdkFocusInitial
              [kettleProblem]="problem()?.of('reason')"
            />
            <datalist id="aside-reasons">
              @for (each of reasons(); track each) {
                <option [value]="each"></option>
              }
            </datalist>
            @if (problem()?.of('reason'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <kettle-day-field
            label="Back in the Round on (empty: not)"
            name="wakeOn"
            [min]="earliest"
            [(ngModel)]="wakeOn"
            [problem]="problem()?.of('wakeOn')"
          />
        </div>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Set it aside</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class AsideDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AsideDialog>);
  private readonly words = inject(DealWords);
  protected readonly user = inject(CurrentUser);
  private readonly asked = inject<{ lead: LeadRow; changeId: string }>(MAT_DIALOG_DATA);
  protected readonly lead = this.asked.lead;
  protected readonly reasons = computed(() => this.words.reasons()?.aside ?? []);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly earliest = addDays(this.user.today(), 1);
  protected reason = '';
  protected wakeOn = '';

  constructor() {
    this.words.wake();
  }

  protected save(): void {
    const { id } = this.lead;
    const body = { reason: this.reason, wakeOn: this.wakeOn || null };
    this.api.call('setLeadAside', { params: { id }, body }, this.asked.changeId).subscribe({
      next: (lead) => this.dialog.close(lead),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
