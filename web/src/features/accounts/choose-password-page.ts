import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { WordMark } from '../../kit/word-mark';
import { CurrentUser } from '../../services/current-user';
import { Theme } from '../../services/theme';

/** Whoever comes by the link of an invitation or of a reset chooses their password. The link is in the part of the address that no server sees. */
@Component({
  selector: 'kettle-choose-password-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, FormsModule, RouterLink, WordMark],
  template: `
    <main>
      <kettle-word-mark />
      <h1>Choose your password</h1>
      @if (link.value(); as it) {
        <p class="soft">
          {{ it.name }}, you sign in as
          <b>{{ it.email }}</b>
          .
        </p>
        <form (ngSubmit)="choose()">
          <mat-form-field class="visually-hidden">
            <input
              matInput
              aria-label="E-mail address"
              autocomplete="username"
              [value]="it.email"
              tabindex="-1"
              readonly
            />
          </mat-form-field>
          <mat-form-field>
            <mat-label>Password, at least 12 characters</mat-label>
            <input
              matInput
              name="password"
              type="password"
              [(ngModel)]="password"
              autocomplete="new-password"
              required
              [kettleProblem]="problem()?.of('password')"
            />
            @if (problem()?.of('password'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <p class="soft small">A few words in a row are easy to keep and hard to guess.</p>
          @if (problem(); as wrong) {
            <p class="wrong" role="alert">{{ wrong.message }}</p>
          }
          <button matButton="filled" [disabled]="isBusy()">Save password and sign in</button>
        </form>
      } @else if (link.state().kind === 'failed' || token === '') {
        <p class="wrong" role="alert">This link was used or is too old, or not all of it was copied.</p>
        <p>Ask for another where you sign in, or ask an admin.</p>
        <a matButton="outlined" routerLink="/sign-in">To sign in</a>
      }
    </main>
  `,
  styleUrl: '../sign-in/sign-in.scss',
})
export class ChoosePasswordPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly user = inject(CurrentUser);
  protected readonly token = location.hash.slice(1);
  protected readonly link = reading((token: string) => this.api.call('readLink', { body: { token } }));
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  protected password = '';

  constructor() {
    inject(Theme);
    if (this.token !== '') this.link.read(this.token);
  }

  protected choose(): void {
    const link = this.link.value();
    if (link === null || this.isBusy()) return;
    this.isBusy.set(true);
    const fail = (error: unknown) => {
      this.isBusy.set(false);
      this.problem.set(problemOf(error));
    };
    const { password } = this;
    this.api.call('choosePassword', { body: { token: this.token, password } }).subscribe({
      next: () =>
        this.api.call('signIn', { body: { email: link.email, password } }).subscribe({
          next: (session) => {
            this.user.enter(session);
            void this.router.navigateByUrl('/round');
          },
          // With a second factor, the door asks for its code.
          error: () => void this.router.navigateByUrl('/sign-in'),
        }),
      error: fail,
    });
  }
}
