import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { AgreementDetail } from '@kettle/contract';
import { agreementStateLabel, renewalDecisionLabel } from '@kettle/contract/agreements/labels';
import { sayPercent } from '@kettle/core/locale';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, DayPipe, MoneyPipe, SharePipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { tableParts } from '../../kit/table';
import { WordPipe } from '../../kit/value-words';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { FileList, RecordMenu, Talk } from '../dossier/index';
import { ChainStrip } from './chain-strip';

const howLabel: Readonly<Record<AgreementDetail['terms'][number]['how'], string>> = {
  first: $localize`first`,
  rolled: $localize`renewed itself`,
  renewed: $localize`renewed`,
};

/** One agreement: what it is today and what follows, its terms, what was bought, how likely the customer leaves, and its documents. */
@Component({
  selector: 'kettle-agreement-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[ChainStrip, CountPipe, DayPipe, Failed, FileList, MatButtonModule, MoneyPipe, RecordMenu],
    ...[RouterLink, SharePipe, Talk, tableParts, Waiting, WordPipe],
  ],
  templateUrl: './agreement-page.html',
  styleUrl: './agreement-page.scss',
})
export class AgreementPage {
  protected readonly texts = {
    months: $localize`month|months`,
    moreActsFor: (name: string | number) => $localize`More acts for ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);

  readonly id = input.required<string>();
  protected readonly states = agreementStateLabel;
  protected readonly decisions = renewalDecisionLabel;
  protected readonly hows = howLabel;
  protected readonly renewsItself = $localize`renews itself for`;
  protected readonly nextTerm = $localize`the next term`;
  protected readonly read = reading((id: string) => this.api.call('getAgreement', { params: { id } }));
  protected readonly detail = this.read.value;
  protected readonly agreement = computed(() => this.detail()?.agreement ?? null);
  protected readonly mayChange = computed(() => this.user.mayChange(this.agreement()?.ownerId ?? ''));
  protected readonly menuRecord = computed(() => {
    const { id, version, archivedAt } = this.agreement()!;
    return { kind: 'agreement' as const, id, version, isArchived: archivedAt !== null };
  });
  protected readonly terms = computed(() => [...(this.detail()?.terms ?? [])].reverse());
  protected readonly uplift = computed(() => {
    const { upliftKind: kind, upliftBy: by } = this.agreement()!;
    return kind === 'percent' ? sayPercent(by / 10_000) : null;
  });
  /** It is now that somebody has to talk. */
  protected readonly isPressing = computed(() => {
    const shown = this.agreement();
    if (shown?.decision !== 'open') return false;
    return (
      shown.state === 'over' ||
      (shown.leadOn <= this.user.today() && shown.noticeDeadlineOn >= this.user.today())
    );
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.read.read(id));
    });
    inject(ChangeStream)
      .of('agreement')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected edit(): void {
    this.open(
      import('./agreement-dialog').then((m) => m.AgreementDialog),
      { agreement: this.agreement()! },
    );
  }

  protected changeValue(): void {
    this.open(
      import('./value-dialog').then((m) => m.ValueDialog),
      this.agreement()!,
    );
  }

  protected end(): void {
    this.open(
      import('./end-dialog').then((m) => m.EndDialog),
      this.detail()!,
    );
  }

  protected editLines(): void {
    this.open(
      import('./lines-dialog').then((m) => m.LinesDialog),
      this.detail()!,
      '860px',
    );
  }

  private open(part: Promise<new (...asked: never[]) => unknown>, data: unknown, width = '600px'): void {
    void part.then((Part) =>
      this.dialog
        .open(Part as new () => unknown, { data, width, maxWidth: '96vw' })
        .afterClosed()
        .subscribe(() => this.read.again()),
    );
  }

  protected stay(): void {
    const { id, version, name } = this.agreement()!;
    const changeId = v7();
    this.api.call('keepAgreement', { params: { id }, body: { version } }, changeId).subscribe({
      next: (detail) => {
        this.read.put(detail);
        this.undo.offer($localize`${name}:name: stays.`, changeId, () => this.read.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected renew(): void {
    const { id } = this.agreement()!;
    this.api.call('openRenewal', { body: { agreementIds: [id] } }).subscribe({
      next: ({ dealId }) => void this.router.navigate(['/deals', dealId]),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected leave(): void {
    void this.router.navigate(['/renewals']);
  }
}
