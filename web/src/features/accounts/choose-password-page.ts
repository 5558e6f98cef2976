import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { pageFormParts, RecordForm, required } from '../../kit/form';
import { WordMark } from '../../kit/word-mark';
import { CurrentUser } from '../../services/current-user';
import { Theme } from '../../services/theme';

/** Whoever comes by the link of an invitation or of a reset chooses their password. The link is in the part of the address that no server sees. */
@Component({
  selector: 'kettle-choose-password-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, pageFormParts, MatButtonModule, WordMark],
  template: `
    <main>
      <kettle-word-mark />
      <h1 i18n>Choose your password</h1>
      @if (link.value(); as it) {
        <p i18n class="soft">
          {{ it.name }}, you sign in with this address:
          <b>{{ it.email }}</b>
        </p>
        <kettle-page-form act="Save password and sign in" i18n-act [form]="form" (save)="choose()">
          <mat-form-field class="visually-hidden">
            <input
              matInput
              aria-label="E-mail address"
              i18n-aria-label
              autocomplete="username"
              [value]="it.email"
              tabindex="-1"
              readonly
            />
          </mat-form-field>
          <kettle-text-field
            label="Password, at least 12 characters"
            i18n-label
            type="password"
            remembered="new-password"
            [formControl]="form.controls.password"
          />
          <p i18n class="soft small">A few words in a row are easy to keep and hard to guess.</p>
        </kettle-page-form>
      } @else if (link.state().kind === 'failed' || token === '') {
        <p i18n class="wrong" role="alert">This link was used or is too old, or not all of it was copied.</p>
        <p i18n>Ask for another where you sign in, or ask an admin.</p>
        <a i18n matButton="outlined" href="/sign-in">To sign in</a>
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
  protected readonly form = new RecordForm({ password: required('') });

  constructor() {
    inject(Theme);
    if (this.token !== '') this.link.read(this.token);
  }

  protected choose(): void {
    const { email } = this.link.value()!;
    const { password } = this.form.getRawValue();
    this.form.send(
      { token: this.token, password },
      (body) => this.api.call('choosePassword', { body }),
      () =>
        this.api.call('signIn', { body: { email, password } }).subscribe({
          next: (session) => {
            this.user.enter(session);
            void this.router.navigateByUrl('/round');
          },
          // With a second factor, the door asks for its code.
          error: () => location.assign('/sign-in'),
        }),
    );
  }
}
