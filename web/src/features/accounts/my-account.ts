import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { DomSanitizer, type SafeHtml } from '@angular/platform-browser';
import type { NewSecondFactor } from '@kettle/contract';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { pageFormParts, RecordForm, required } from '../../kit/form';
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
  imports: [pageFormParts, MatButtonModule, Failed, MomentPipe, Waiting],
  templateUrl: './my-account.html',
  styleUrls: ['../settings/settings-part.scss', './accounts.scss'],
})
export class MyAccountPart {
  protected readonly texts = {
    aBrowser: $localize`a browser`,
    signOut: (device: string | number) => $localize`Sign out ${device}:device:`,
  };

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
  protected readonly newPassword = new RecordForm({ current: required(''), password: required('') });
  protected readonly proof = new RecordForm({ code: required('') });
  /** Before the second factor is turned off, or its codes are made anew. */
  protected readonly sure = new RecordForm({ password: required('') });

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
    for (const form of [this.newPassword, this.proof, this.sure]) {
      form.reset();
      form.submission.clear();
    }
    this.factor.set(null);
    if (asking === 'factor')
      this.api.call('beginSecondFactor').subscribe({
        next: (factor) => this.factor.set(factor),
        error: this.fail,
      });
  }

  protected changePassword(): void {
    this.newPassword.send(
      this.newPassword.getRawValue(),
      (body) => this.api.call('changePassword', { body }),
      () => this.done($localize`Your password is changed; every other browser is signed out.`),
    );
  }

  protected prove(): void {
    this.proof.send(
      this.proof.getRawValue(),
      (body) => this.api.call('proveSecondFactor', { body }),
      ({ codes }) => {
        this.codes.set(codes);
        this.done($localize`The second factor is on.`);
        this.readSession();
      },
    );
  }

  protected endFactor(): void {
    this.sure.send(
      this.sure.getRawValue(),
      (body) => this.api.call('endSecondFactor', { body }),
      () => {
        this.codes.set([]);
        this.done($localize`The second factor is off.`);
      },
    );
  }

  protected newCodes(): void {
    this.sure.send(
      this.sure.getRawValue(),
      (body) => this.api.call('newRecoveryCodes', { body }),
      ({ codes }) => {
        this.codes.set(codes);
        this.done($localize`New recovery codes; the old ones no longer count.`);
      },
    );
  }

  protected endSession(id: string): void {
    this.api.call('endSession', { params: { id } }).subscribe({
      next: () => this.done($localize`Signed out there.`),
      error: this.fail,
    });
  }

  protected endOthers(): void {
    this.api.call('endOtherSessions').subscribe({
      next: () => this.done($localize`Signed out everywhere but here.`),
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
