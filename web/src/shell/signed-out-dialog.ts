import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Session } from '@kettle/contract';
import { Api } from '../api/api';
import { field, RecordForm, required } from '../kit/record-form';
import { TextField } from '../kit/text-field';
import { CurrentUser } from '../services/current-user';

/**
 * Covers the page when its session has ended, and keeps what was typed on it: whoever signs in again goes on where they were. Closes with
 * their session, or with null for somebody else.
 */
@Component({
  selector: 'kettle-signed-out-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TextField, MatButtonModule, MatDialogModule, ReactiveFormsModule],
  template: `
    <h2 i18n mat-dialog-title>You have been signed out</h2>
    <form [formGroup]="form" (ngSubmit)="signIn()">
      <mat-dialog-content>
        <p i18n>
          {{ user.person()?.name }}’s session here has ended. Sign in again to go on where you were; what you
          typed is kept.
        </p>
        <kettle-text-field
          label="Password"
          i18n-label
          type="password"
          remembered="current-password"
          [formControl]="form.controls.password"
          startsHere
        />
        @if (asksCode()) {
          <kettle-text-field
            label="Code of the authenticator app, or a recovery code"
            i18n-label
            remembered="one-time-code"
            [formControl]="form.controls.code"
          />
        }
        @if (form.submission.problem(); as wrong) {
          <p [class.wrong]="wrong.code !== 'code-needed'" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button i18n matButton="outlined" type="button" [mat-dialog-close]="null">I am somebody else</button>
        <button i18n matButton="filled" [disabled]="form.submission.isSending()" disabledInteractive>
          Sign in
        </button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class SignedOutDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<SignedOutDialog, Session | null>>(MatDialogRef);
  protected readonly user = inject(CurrentUser);
  protected readonly form = new RecordForm({ password: required(''), code: field('') });
  protected readonly asksCode = computed(() =>
    ['code-needed', 'wrong-code'].includes(this.form.submission.problem()?.code ?? ''),
  );

  protected signIn(): void {
    const { password, code } = this.form.getRawValue();
    this.form.send(
      { email: this.user.person()!.email, password, ...(this.asksCode() ? { code } : {}) },
      (body) => this.api.call('signIn', { body }),
      (session) => this.dialog.close(session),
    );
  }
}
