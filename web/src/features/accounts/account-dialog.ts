import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Account } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { formParts, RecordForm } from '../../kit/form';
import { Undo } from '../../services/undo';
import { accountControls, AccountFields } from './account-fields';

/** Changes somebody's name, role and manager. */
@Component({
  selector: 'kettle-account-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AccountFields, formParts],
  template: `
    <kettle-dialog-form [title]="asked.account.name" [form]="form" [say]="say" (save)="save()">
      <kettle-account-fields [form]="form" [all]="asked.all" [of]="asked.account.id" />
    </kettle-dialog-form>
  `,
})
export class AccountDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AccountDialog>);
  private readonly undo = inject(Undo);
  protected readonly asked = inject<{ account: Account; all: readonly Account[] }>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm(accountControls(this.asked.account));
  protected readonly say = (path: string, value: unknown) =>
    path === 'managerId' && value !== null
      ? (this.asked.all.find(({ id }) => id === value)?.name ?? null)
      : null;

  protected save(): void {
    const { id, version } = this.asked.account;
    const changeId = v7();
    this.form.send(
      { ...this.form.getRawValue(), version },
      (body) => this.api.call('changeAccount', { params: { id }, body }, changeId),
      (account) => {
        this.dialog.close();
        this.undo.offer($localize`The account of ${account.name} is changed.`, changeId);
      },
    );
  }
}
