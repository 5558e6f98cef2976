import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Account } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Conflicts, Submission } from '../../kit/conflicts';
import { Undo } from '../../services/undo';
import { AccountFields, type AccountDraft } from './account-fields';

/** Changes somebody's name, role and manager. */
@Component({
  selector: 'kettle-account-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, AccountFields, Conflicts, FormsModule, MatDialogModule],
  template: `
    <form (ngSubmit)="save()">
      <h2 mat-dialog-title>{{ asked.account.name }}</h2>
      <mat-dialog-content class="stack">
        <kettle-account-fields
          [(draft)]="draft"
          [all]="asked.all"
          [of]="asked.account.id"
          [problem]="saving.problem()"
        />
        @if (saving.problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        <kettle-conflicts
          [problem]="saving.problem()"
          [sent]="saving.sent()"
          [say]="say"
          [(choices)]="saving.choices"
        />
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Save</button>
      </mat-dialog-actions>
    </form>
  `,
  styleUrl: './accounts.scss',
})
export class AccountDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AccountDialog>);
  private readonly undo = inject(Undo);
  protected readonly asked = inject<{ account: Account; all: readonly Account[] }>(MAT_DIALOG_DATA);
  protected readonly saving = new Submission();
  protected readonly draft = signal<AccountDraft>({ ...this.asked.account, email: null });
  protected readonly say = (path: string, value: unknown) =>
    path === 'managerId' && value !== null
      ? (this.asked.all.find(({ id }) => id === value)?.name ?? null)
      : null;

  protected save(): void {
    const { id, version } = this.asked.account;
    const { name, role, managerId } = this.draft();
    const changeId = v7();
    const body = this.saving.bodyOf({ version, name, role, managerId });
    this.api.call('changeAccount', { params: { id }, body }, changeId).subscribe({
      next: (account) => {
        this.dialog.close();
        this.undo.offer(`The account of ${account.name} is changed.`, changeId);
      },
      error: this.saving.refuse,
    });
  }
}
