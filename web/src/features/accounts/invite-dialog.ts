import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Account } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { AccountFields, type AccountDraft } from './account-fields';

/** Adds somebody, who chooses their own password by a link. */
@Component({
  selector: 'kettle-invite-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, AccountFields, FormsModule, MatDialogModule],
  template: `
    <form (ngSubmit)="save()">
      <h2 mat-dialog-title>Invite somebody</h2>
      <mat-dialog-content class="stack">
        <p class="soft">They get a mail with a link and choose their password. It is good for seven days.</p>
        <kettle-account-fields [(draft)]="draft" [all]="all" [problem]="problem()" />
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" [disabled]="isBusy()">Send the invitation</button>
      </mat-dialog-actions>
    </form>
  `,
  styleUrl: './accounts.scss',
})
export class InviteDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<InviteDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly all = inject<readonly Account[]>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly draft = signal<AccountDraft>({ name: '', email: '', role: 'rep', managerId: null });
  private readonly changeId = v7();

  protected save(): void {
    if (this.isBusy()) return;
    this.isBusy.set(true);
    const me = this.user.person();
    const { name, email, role, managerId } = this.draft();
    const where = { zone: me?.zone ?? 'Europe/London', country: me?.country ?? 'GB' };
    const body = { name, email: email ?? '', role, managerId, ...where };
    this.api.call('invitePerson', { body }, this.changeId).subscribe({
      next: (sent) => this.dialog.close(sent),
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
