import { tableParts } from '../../kit/table';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import type { Account } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { WordPipe, wordOf } from '../../kit/value-words';

/** Everybody who signs in; an admin invites, changes, and ends access. */
@Component({
  selector: 'kettle-accounts-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WordPipe, tableParts, MatButtonModule, Failed, MatMenuModule, MomentPipe, Waiting],
  templateUrl: './accounts-part.html',
  styleUrls: ['../settings/settings-part.scss', './accounts.scss'],
})
export class AccountsPart {
  protected readonly texts = {
    actsOn: (name: string | number) => $localize`Acts on ${name}:name:`,
    sendTheInvitationAgain: $localize`Send the invitation again`,
    sendALinkFor: $localize`Send a link for a new password`,
    areShown: $localize`are shown`,
    areHidden: $localize`are hidden`,
    hideThem: $localize`hide them`,
    showThem: $localize`show them`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly isAdmin = computed(() => this.user.person()?.role === 'admin');
  protected readonly stored = reading((_: null) => this.api.call('listAccounts'));
  protected readonly accounts = computed(() => this.stored.value()?.accounts ?? []);
  protected readonly withGone = signal(false);
  protected readonly idOf = ({ id }: Account): string => id;
  protected readonly isGone = ({ state }: Account): boolean => state === 'deactivated';
  protected readonly shown = computed(() =>
    this.accounts().filter(({ state }) => this.withGone() || state !== 'deactivated'),
  );
  protected readonly gone = computed(
    () => this.accounts().filter(({ state }) => state === 'deactivated').length,
  );
  /** A link that no mail could carry: for the admin to hand on. */
  protected readonly link = signal<{ readonly name: string; readonly url: string } | null>(null);

  constructor() {
    this.stored.read(null);
  }

  protected stateOf(account: Account): string {
    const words = {
      active: wordOf(account.isDemo ? 'demo' : 'active'),
      invited: $localize`invited, no password yet`,
      deactivated: $localize`deactivated`,
    };
    return words[account.state];
  }

  protected async invite(): Promise<void> {
    const { InviteDialog } = await import('./invite-dialog');
    this.dialog
      .open(InviteDialog, { data: this.accounts(), width: '520px' })
      .afterClosed()
      .subscribe((sent: Parameters<AccountsPart['sayLink']>[0] | undefined) => {
        if (sent) this.sayLink(sent);
      });
  }

  protected async change(account: Account): Promise<void> {
    const { AccountDialog } = await import('./account-dialog');
    this.dialog
      .open(AccountDialog, { data: { account, all: this.accounts() }, width: '520px' })
      .afterClosed()
      .subscribe(() => this.stored.again());
  }

  protected async deactivate(account: Account): Promise<void> {
    const { DeactivateDialog } = await import('./deactivate-dialog');
    this.dialog
      .open(DeactivateDialog, { data: { account, all: this.accounts() }, width: '520px' })
      .afterClosed()
      .subscribe((changeId: string | undefined) => {
        this.stored.again();
        if (changeId)
          this.undo.offer($localize`${account.name} may not sign in any more.`, changeId, () =>
            this.stored.again(),
          );
      });
  }

  protected reactivate(account: Account): void {
    const changeId = v7();
    this.api.call('reactivate', { params: { id: account.id } }, changeId).subscribe({
      next: () => {
        this.stored.again();
        this.undo.offer($localize`${account.name} may sign in again.`, changeId, () => this.stored.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected sendLink(account: Account): void {
    this.api.call('sendLink', { params: { id: account.id } }).subscribe({
      next: (sent) => this.sayLink(sent),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected resetFactor(account: Account): void {
    this.api.call('resetSecondFactor', { params: { id: account.id } }).subscribe({
      next: () => {
        this.stored.again();
        this.notices.say(
          $localize`${account.name} signs in with the password alone, and can set up a new second factor.`,
        );
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected removeDemo(): void {
    const changeId = v7();
    this.api.call('removeDemoAccounts', {}, changeId).subscribe({
      next: ({ removed }) => {
        this.stored.again();
        this.notices.say($localize`${removed} demo accounts are removed; what they owned is yours.`);
        this.api.call('session').subscribe((session) => this.user.enter(session));
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private sayLink(sent: { account: Account; sentTo: string | null; link: string | null }): void {
    this.stored.again();
    if (sent.link === null) this.notices.say($localize`A link is on its way to ${sent.sentTo}.`);
    this.link.set(sent.link === null ? null : { name: sent.account.name, url: sent.link });
  }
}
