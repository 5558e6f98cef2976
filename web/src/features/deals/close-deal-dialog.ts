import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, ClosingSteps, Deal, DealRow } from '@kettle/contract';
import { lineTotals } from '@kettle/core/deals';
import { readMoney } from '@kettle/core/money';
import { addDays } from '@kettle/core/time';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import { ClosingStepList } from './closing-steps';
import { DealWords } from './deal-words';

const usualParkedDays = 30;
const usualTerm = { months: 12, noticeDays: 60, leadDays: 45 };

/** Won with what it came to, agreement and standing; lost with reason and competitor; or parked until a day. */
@Component({
  selector: 'kettle-close-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    DayField,
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    ClosingStepList,
    FormsModule,
    MatDialogModule,
  ],
  templateUrl: './close-deal-dialog.html',
  styles: `
    .tick {
      display: block;
      padding-block-start: var(--space-3);
    }
    .ending {
      padding-block-start: var(--space-3);
    }
    .tick + .form-grid {
      padding-block-start: var(--space-2);
    }
  `,
})
export class CloseDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CloseDealDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(DealWords);
  protected readonly people = inject(PeopleWords);
  protected readonly asked = inject<{ deal: DealRow; as: 'won' | 'lost' | 'parked' }>(MAT_DIALOG_DATA);
  protected readonly earliest = this.asked.as === 'parked' ? addDays(this.user.today(), 1) : null;
  protected readonly latest = this.asked.as === 'parked' ? null : this.user.today();
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly reasons = computed(() => this.words.reasons()?.[this.asked.as] ?? []);
  /** Prompts of the stage's brief that must be ticked first. */
  protected readonly prompts = signal<readonly { id: string; text: string }[]>([]);
  /** What is planned for the deal and ends with it. */
  protected readonly planned = signal<ClosingSteps | null>(null);
  protected readonly customers = computed(() =>
    this.people.standings().filter(({ standing }) => standing.group === 'customer'),
  );
  protected readonly mayAgree = this.asked.deal.contactId !== null;
  protected readonly withAgreement = signal(false);
  private readonly ticked = new Set<string>();
  /** The other person's version, when ours was out of date. */
  protected readonly theirs = computed(() =>
    this.problem()?.code === 'stale' ? (this.problem()?.current as DealRow) : null,
  );
  private version = this.asked.deal.version;

  protected on = this.asked.as === 'parked' ? addDays(this.user.today(), usualParkedDays) : this.user.today();
  protected reason = '';
  protected closing = '';
  protected lostTo = '';
  protected amount = String(this.asked.deal.amountMinor / 100);
  private readonly contactStanding = signal('');
  protected readonly standingId = signal<string | null>(null);
  protected agreementName = this.asked.deal.name;
  protected startsOn = this.user.today();
  protected termMonths = usualTerm.months;
  protected yearly = '';
  protected noticeDays = usualTerm.noticeDays;
  protected leadDays = usualTerm.leadDays;
  protected renewsItself = true;

  constructor() {
    this.words.wake();
    const { deal, as } = this.asked;
    this.api
      .call('closingSteps', { params: { id: deal.id } })
      .pipe(takeUntilDestroyed())
      .subscribe({ next: (planned) => this.planned.set(planned), error: () => undefined });
    if (as === 'won' && deal.contactId !== null)
      this.api
        .call('getContact', { params: { id: deal.contactId } })
        .pipe(takeUntilDestroyed())
        .subscribe((contact) => this.contactStanding.set(contact.standingId));
    if (as === 'won')
      this.api
        .call('getDeal', { params: { id: deal.id } })
        .pipe(takeUntilDestroyed())
        .subscribe(({ lines }) => this.proposeAgreement(lines));
    effect(() => {
      const was = this.people.standings().find(({ standing }) => standing.id === this.contactStanding());
      const [first] = this.customers();
      // Who was a prospect is a customer now, unless the rep says otherwise.
      if (was?.standing.group === 'prospect' && first) this.standingId.set(first.standing.id);
    });
  }

  /** What was sold by the year is what the agreement is about, as long as nothing else was typed. */
  private proposeAgreement(lines: Deal['lines']): void {
    const { yearlyMinor } = lineTotals(lines);
    if (yearlyMinor === 0 || this.yearly !== '') return;
    this.yearly = String(yearlyMinor / 100);
    this.withAgreement.set(true);
  }

  protected turn(promptId: string): void {
    if (!this.ticked.delete(promptId)) this.ticked.add(promptId);
  }

  protected save(): void {
    const { deal } = this.asked;
    const body = this.body();
    if (body instanceof ApiProblem) return this.problem.set(body);
    this.api.call('closeDeal', { params: { id: deal.id }, body }).subscribe({
      next: (closed) => this.dialog.close(closed),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        if (problem.code === 'brief-open')
          this.prompts.set((problem.current as { prompts: { id: string; text: string }[] }).prompts);
        // The next try is made over their version, knowingly; what was typed stands.
        if (problem.code === 'stale') this.version = (problem.current as DealRow).version;
      },
    });
  }

  private body(): NonNullable<CallOf<'closeDeal'>['body']> | ApiProblem {
    const { as } = this.asked;
    const shared = { version: this.version, words: this.closing };
    if (as === 'lost')
      return { as, ...shared, on: this.on, reason: this.reason, lostTo: this.lostTo.trim() || null };
    if (as === 'parked') return { as, ...shared, wakeOn: this.on, reason: this.reason };
    const amountMinor = readMoney(this.amount);
    const valueMinor = this.withAgreement() ? readMoney(this.yearly) : 0;
    const wrong = [
      ...(amountMinor === null ? ['amountMinor'] : []),
      ...(valueMinor === null ? ['agreement.valueMinor'] : []),
    ].map((path) => ({ path, message: 'must be an amount such as 4,400 or 12.5k' }));
    if (amountMinor === null || valueMinor === null)
      return new ApiProblem('invalid-request', 'Something is not right yet. Check the marked fields.', wrong);
    const { startsOn, termMonths, noticeDays, leadDays, renewsItself } = this;
    const term = {
      name: this.agreementName,
      startsOn,
      termMonths,
      noticeDays,
      leadDays,
      renewsItself,
      valueMinor,
      currency: this.asked.deal.currency,
    };
    return {
      as,
      ...shared,
      on: this.on,
      amountMinor,
      reason: this.reason.trim() || null,
      standingId: this.standingId() as never,
      agreement: this.withAgreement() ? term : null,
      tick: [...this.ticked],
    };
  }
}
