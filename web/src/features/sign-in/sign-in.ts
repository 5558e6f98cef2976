import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { Doorstep, Session } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { BareInput } from '../../kit/bare-input';
import { Pick } from '../../kit/pick';
import { Failed } from '../../kit/states';
import { WordMark } from '../../kit/word-mark';
import { CurrentUser } from '../../services/current-user';
import { Theme } from '../../services/theme';

/** The door: sign in, or on an empty installation make the first admin; a demo offers its invented people. */
@Component({
  selector: 'kettle-sign-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, BareInput, MatButtonModule, FormsModule, Failed, WordMark],
  templateUrl: './sign-in.html',
  styleUrl: './sign-in.scss',
})
export class SignIn {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly router = inject(Router);
  /** Where the person wanted to go. */
  readonly to = input<string>('/round');

  protected readonly doorstep = reading((_: null): Observable<Doorstep> => this.api.call('doorstep'));
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  protected name = '';
  protected email = '';
  protected password = '';
  protected code = '';
  /** The password was right, and the account has a second factor. */
  protected readonly asksCode = signal(false);
  /** A link for a new password was asked for. */
  protected readonly isLinkSent = signal(false);

  constructor() {
    inject(Theme);
    this.doorstep.read(null);
  }

  protected signIn(email = this.email, password = this.password): void {
    const code = this.asksCode() ? { code: this.code } : {};
    this.enter(this.api.call('signIn', { body: { email, password, ...code } }));
  }

  protected forgot(): void {
    this.problem.set(null);
    this.api.call('forgotPassword', { body: { email: this.email } }).subscribe({
      next: () => this.isLinkSent.set(true),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected makeAdmin(): void {
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
    const country = navigator.language.split('-')[1]?.toUpperCase().slice(0, 2) ?? 'GB';
    const body = { name: this.name, email: this.email, password: this.password, zone: timeZone, country };
    this.enter(this.api.call('createFirstAdmin', { body }));
  }

  private enter(asked: Observable<Session>): void {
    this.isBusy.set(true);
    this.problem.set(null);
    asked.subscribe({
      next: (session) => {
        this.user.enter(session);
        void this.router.navigateByUrl(this.to()?.startsWith('/') ? this.to() : '/round');
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        const problem = problemOf(error);
        if (problem.code === 'code-needed') this.asksCode.set(true);
        this.problem.set(problem);
      },
    });
  }
}
