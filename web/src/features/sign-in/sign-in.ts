import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { Doorstep, Session } from '@kettle/contract';
import { type Observable, tap } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Pick } from '../../kit/pick';
import { field, RecordForm, required } from '../../kit/record-form';
import { Failed } from '../../kit/states';
import { LightField } from '../../kit/light-field';
import { WordMark } from '../../kit/word-mark';
import { Theme } from '../../services/theme';

/** The door: sign in, or on an empty installation make the first admin; a demo offers its invented people. */
@Component({
  selector: 'kettle-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, MatButtonModule, ReactiveFormsModule, Failed, LightField, WordMark],
  templateUrl: './sign-in.html',
  styleUrl: './sign-in.scss',
})
export class SignIn {
  private readonly api = inject(Api);
  readonly entered = output<Session>();

  protected readonly doorstep = reading((_: null): Observable<Doorstep> => this.api.call('doorstep'));
  protected readonly form = new RecordForm({ email: required(''), password: required(''), code: field('') });
  protected readonly first = new RecordForm({
    name: required(''),
    email: required(''),
    password: required(''),
  });
  /** The password was right, and the account has a second factor. */
  protected readonly asksCode = signal(false);
  /** The address that a link for a new password was asked for. */
  protected readonly linkSentTo = signal<string | null>(null);

  constructor() {
    inject(Theme);
    this.doorstep.read(null);
  }

  protected signIn(): void {
    const { code, ...asked } = this.form.getRawValue();
    this.form.send(
      { ...asked, ...(this.asksCode() ? { code } : {}) },
      (body) => this.enter(this.api.call('signIn', { body })),
      (session) => this.entered.emit(session),
    );
  }

  protected signInAs({ email, password }: Doorstep['demoPeople'][number]): void {
    this.form.setValue({ email, password, code: '' });
    this.signIn();
  }

  /** The address is all that a link needs. */
  protected forgot(): void {
    const { email } = this.form.controls;
    email.markAsTouched();
    if (email.invalid) return;
    this.api.call('forgotPassword', { body: { email: email.value } }).subscribe({
      next: () => this.linkSentTo.set(email.value),
      error: this.form.submission.refuse,
    });
  }

  protected makeAdmin(): void {
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
    const country = navigator.language.split('-')[1]?.toUpperCase().slice(0, 2) ?? 'GB';
    this.first.send(
      { ...this.first.getRawValue(), zone: timeZone, country },
      (body) => this.api.call('createFirstAdmin', { body }),
      (session) => this.entered.emit(session),
    );
  }

  private enter(asked: Observable<Session>): Observable<Session> {
    return asked.pipe(
      tap({
        error: (error: unknown) => {
          if (problemOf(error).code === 'code-needed') this.asksCode.set(true);
        },
      }),
    );
  }
}
