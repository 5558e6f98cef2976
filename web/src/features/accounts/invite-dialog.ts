import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Account } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { accountControls, AccountFields } from './account-fields';

/** Adds somebody, who chooses their own password by a link. */
@Component({
  selector: 'kettle-invite-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AccountFields, formParts],
  template: `
    <kettle-dialog-form
      title="Invite somebody"
      i18n-title
      act="Send the invitation"
      i18n-act
      [form]="form"
      (save)="save()"
    >
      <p i18n class="soft">
        They get a mail with a link and choose their password. It is good for seven days.
      </p>
      <kettle-account-fields [form]="form" [all]="all">
        <kettle-text-field
          label="E-mail address"
          i18n-label
          type="email"
          [formControl]="form.controls.email"
        />
      </kettle-account-fields>
    </kettle-dialog-form>
  `,
})
export class InviteDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<InviteDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly all = inject<readonly Account[]>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({
    ...accountControls({ name: '', role: 'rep', managerId: null }),
    email: required(''),
  });
  private readonly changeId = v7();

  protected save(): void {
    const me = this.user.person();
    const where = { zone: me?.zone ?? 'Europe/London', country: me?.country ?? 'GB' };
    this.form.send(
      { ...this.form.getRawValue(), ...where },
      (body) => this.api.call('invitePerson', { body }, this.changeId),
      (sent) => this.dialog.close(sent),
    );
  }
}
