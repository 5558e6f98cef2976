import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { DomSanitizer, type SafeHtml } from '@angular/platform-browser';
import type { NewSecondFactor } from '@kettle/contract';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

/** What is asked before it is done: which form is open. */
type Asking = 'nothing' | 'password' | 'factor' | 'end-factor' | 'new-codes';

/** My password, my second factor, and where I am signed in. */
@Component({
  selector: 'kettle-my-account',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, Failed, FormsModule, MomentPipe, Waiting],
  templateUrl: './my-account.html',
  styleUrls: ['../settings/settings-part.scss', './accounts.scss'],
})
export class MyAccountPart {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly sanitizer = inject(DomSanitizer);
  protected readonly user = inject(CurrentUser);
  protected readonly account = reading((_: null) => this.api.call('myAccount'));
  protected readonly asking = signal<Asking>('nothing');
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly factor = signal<NewSecondFactor | null>(null);
  /** Shown once, right after they were made. */
  protected readonly codes = signal<readonly string[]>([]);
  protected current = '';
  protected password = '';
  protected code = '';

  constructor() {
    this.account.read(null);
  }

  /** The picture is made by our own server, of a secret it made. */
  protected pictureOf(factor: NewSecondFactor): SafeHtml {
    return this.sanitizer.bypassSecurityTrustHtml(factor.picture);
  }

  protected ask(asking: Asking): void {
    this.asking.set(asking);
    this.problem.set(null);
    this.current = this.password = this.code = '';
    this.factor.set(null);
    if (asking === 'factor')
      this.api.call('beginSecondFactor').subscribe({
        next: (factor) => this.factor.set(factor),
        error: this.fail,
      });
  }

  protected changePassword(): void {
    const body = { current: this.current, password: this.password };
    this.api.call('changePassword', { body }).subscribe({
      next: () => this.done('Your password is changed; every other browser is signed out.'),
      error: this.fail,
    });
  }

  protected prove(): void {
    this.api.call('proveSecondFactor', { body: { code: this.code } }).subscribe({
      next: ({ codes }) => {
        this.codes.set(codes);
        this.done('The second factor is on.');
        this.readSession();
      },
      error: this.fail,
    });
  }

  protected endFactor(): void {
    this.api.call('endSecondFactor', { body: { password: this.current } }).subscribe({
      next: () => {
        this.codes.set([]);
        this.done('The second factor is off.');
      },
      error: this.fail,
    });
  }

  protected newCodes(): void {
    this.api.call('newRecoveryCodes', { body: { password: this.current } }).subscribe({
      next: ({ codes }) => {
        this.codes.set(codes);
        this.done('New recovery codes; the old ones no longer count.');
      },
      error: this.fail,
    });
  }

  protected endSession(id: string): void {
    this.api.call('endSession', { params: { id } }).subscribe({
      next: () => this.done('Signed out there.'),
      error: this.fail,
    });
  }

  protected endOthers(): void {
    this.api.call('endOtherSessions').subscribe({
      next: () => this.done('Signed out everywhere but here.'),
      error: this.fail,
    });
  }

  /** The whole frame may be used from now on. */
  private readSession(): void {
    this.api.call('session').subscribe((session) => this.user.enter(session));
  }

  private done(words: string): void {
    this.asking.set('nothing');
    this.problem.set(null);
    this.factor.set(null);
    this.notices.say(words);
    this.account.again();
  }

  private readonly fail = (error: unknown): void => this.problem.set(problemOf(error));
}
