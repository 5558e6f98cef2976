import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  signal,
} from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, ClosingSteps, Deal, DealRow } from '@kettle/contract';
import { lineTotals } from '@kettle/core/deals';
import { addDays } from '@kettle/core/time';
import { catchError, throwError } from 'rxjs';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { DayProposals } from '../../kit/day-proposals';
import { demand, field, formParts, RecordForm, required } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import { ClosingStepList } from './closing-steps';
import { renewedTerm, RenewedTerms, renewedOf, type RenewedGroup } from './renewed-terms';
import type { ClosingSaid } from './deal-dialogs';
import { DealWords } from './deal-words';
import { WordPipe } from '../../kit/value-words';

const usualParkedDays = 30;
const usualTerm = { months: 12, noticeDays: 60, leadDays: 45 };

/** Won with what it came to, agreement and standing; lost with reason and competitor; or parked until a day. */
@Component({
  selector: 'kettle-close-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    DayField,
    DayProposals,
    formParts,
    MatCheckboxModule,
    ProposedField,
    ClosingStepList,
    RenewedTerms,
  ],
  templateUrl: './close-deal-dialog.html',
})
export class CloseDealDialog {
  protected readonly texts = {
    parkIt: $localize`Park it`,
    itIs: (as: string | number) => $localize`It is ${as}:as:`,
    backInTheRound: $localize`Back in the Round on`,
    on: $localize`On`,
    whatWonIt: $localize`What won it`,
    why: $localize`Why`,
    becomes: (contactName: string | number) => $localize`${contactName}:contactName: becomes`,
  };

  private readonly api = inject(Api);
  private readonly destroyed = inject(DestroyRef);
  private readonly dialog = inject(MatDialogRef<CloseDealDialog>);
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(DealWords);
  protected readonly people = inject(PeopleWords);
  protected readonly asked = inject<{ deal: DealRow; as: 'won' | 'lost' | 'parked'; said?: ClosingSaid }>(
    MAT_DIALOG_DATA,
  );
  protected readonly earliest = this.asked.as === 'parked' ? addDays(this.user.today(), 1) : null;
  protected readonly latest = this.asked.as === 'parked' ? null : this.user.today();
  protected readonly reasons = computed(() => this.words.reasons()?.[this.asked.as] ?? []);
  protected readonly needsReason = computed(
    () => this.asked.as !== 'won' || this.words.reasons()?.wonNeedsReason === true,
  );
  /** Prompts of the stage's brief that must be ticked first. */
  protected readonly prompts = signal<readonly { id: string; text: string }[]>([]);
  /** What is planned for the deal and ends with it, but for what is kept. */
  protected readonly planned = signal<ClosingSteps | null>(null);
  protected readonly kept = signal<ReadonlySet<string> | null>(new Set());
  private readonly customers = computed(() =>
    this.people.standings().filter(({ standing }) => standing.group === 'customer'),
  );
  protected readonly standings = computed(() => [
    { value: null as string | null, words: $localize`as they are` },
    ...this.customers().map(({ standing }) => ({ value: standing.id as string, words: standing.name })),
  ]);
  /** Pipelines that it can be handed on to: all but its own. */
  protected readonly handOns = computed(() => {
    const others = this.words
      .pipelines()
      .filter(({ stages }) => !stages.some(({ id }) => id === this.asked.deal.stageId));
    return others.length === 0
      ? []
      : [
          { value: null as string | null, words: $localize`no other pipeline` },
          ...others.map(({ id, name }) => ({ value: id as string, words: name })),
        ];
  });
  protected readonly mayAgree = this.asked.deal.contactId !== null;
  private readonly ticked = new Set<string>();
  private version = this.asked.deal.version;
  private readonly contactStanding = signal('');

  protected readonly form = new RecordForm({
    on: required(
      this.asked.as === 'parked'
        ? this.user.workdayFrom(addDays(this.user.today(), usualParkedDays))
        : this.user.today(),
    ),
    reason: this.asked.as === 'won' ? field('') : required(''),
    words: field(this.asked.said?.words ?? ''),
    lostTo: field(''),
    amountMinor: required(this.asked.said?.amountMinor ?? this.asked.deal.amountMinor),
    standingId: field<string | null>(null),
    handOnTo: field<string | null>(null),
    hasAgreement: field(false),
    agreement: new FormGroup({
      name: required(this.asked.deal.name),
      startsOn: required(this.user.today()),
      termMonths: required(usualTerm.months),
      valueMinor: required<number>(null),
      noticeDays: required(usualTerm.noticeDays),
      leadDays: required(usualTerm.leadDays),
      renewsItself: field(true),
    }),
    renewed: new FormArray<RenewedGroup>([]),
  });
  /** Of a renewal: the agreements it is about. */
  protected readonly renews = signal<Deal['renews']>([]);
  protected readonly term = this.form.controls.agreement.controls;
  /** The other person's version, when ours was out of date. */
  protected readonly theirs = signal<DealRow | null>(null);
  protected readonly hasAgreement = toSignal(this.form.controls.hasAgreement.valueChanges, {
    initialValue: false,
  });

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
        .subscribe(({ lines, renews }) => {
          this.proposeAgreement(lines);
          this.proposeTerms(renews);
        });
    effect(() => {
      const was = this.people.standings().find(({ standing }) => standing.id === this.contactStanding());
      const [first] = this.customers();
      // Who was a prospect is a customer now, unless the rep says otherwise.
      if (was?.standing.group === 'prospect' && first)
        this.form.controls.standingId.setValue(first.standing.id);
    });
    // A pipeline says where its won deals usually go on.
    effect(() => {
      const { handsOnTo = null } = this.words.pipelineOf(deal.stageId) ?? {};
      const { handOnTo } = this.form.controls;
      if (as === 'won' && deal.contactId !== null && !handOnTo.dirty) handOnTo.setValue(handsOnTo);
    });
    // Whether winning needs a reason is the organisation's to say.
    effect(() => {
      if (this.needsReason()) demand(this.form.controls.reason);
    });
    // What is not asked need not be filled in.
    effect(() => {
      const { agreement } = this.form.controls;
      if (this.hasAgreement()) agreement.enable();
      else agreement.disable();
    });
  }

  /** What was sold by the year is what the agreement is about, as long as nothing else was typed. */
  private proposeAgreement(lines: Deal['lines']): void {
    const { yearlyMinor } = lineTotals(lines);
    if (yearlyMinor === 0 || this.term.valueMinor.dirty) return;
    this.term.valueMinor.setValue(yearlyMinor);
    this.form.controls.hasAgreement.setValue(true);
  }

  /** Each agreement of a renewal for as long as before; of one alone, for what the deal comes to. */
  private proposeTerms(renews: Deal['renews']): void {
    const { renewed, amountMinor } = this.form.controls;
    for (const each of renews)
      renewed.push(renewedTerm(each, renews.length === 1 ? amountMinor.value : each.nextMinor));
    this.renews.set(renews);
    const [only] = renewed.controls;
    if (only === undefined || renews.length > 1) return;
    amountMinor.valueChanges.pipe(takeUntilDestroyed(this.destroyed)).subscribe((minor) => {
      if (!only.controls.valueMinor.dirty) only.controls.valueMinor.setValue(minor);
    });
  }

  protected turn(promptId: string): void {
    if (!this.ticked.delete(promptId)) this.ticked.add(promptId);
  }

  protected save(): void {
    const { deal } = this.asked;
    this.form.send(
      this.body(),
      (body) =>
        this.api
          .call('closeDeal', { params: { id: deal.id }, body })
          .pipe(catchError((error: unknown) => throwError(() => this.refused(problemOf(error))))),
      (closed) => this.dialog.close(closed),
    );
  }

  private refused(problem: ApiProblem): ApiProblem {
    const { code, current } = problem;
    if (code === 'brief-open')
      this.prompts.set((current as { prompts: { id: string; text: string }[] }).prompts);
    if (code !== 'stale') return problem;
    // The next try is made over their version, knowingly; what was typed stands.
    const theirs = current as DealRow;
    this.version = theirs.version;
    this.theirs.set(theirs);
    return new ApiProblem('changed', problem.message);
  }

  private body(): NonNullable<CallOf<'closeDeal'>['body']> {
    const { as, deal } = this.asked;
    const { on, reason, words, lostTo, amountMinor, standingId, hasAgreement, agreement, handOnTo } =
      this.form.getRawValue();
    const shared = { version: this.version, words, keep: [...(this.kept() ?? [])] };
    if (as === 'lost') return { as, ...shared, on, reason, lostTo: lostTo.trim() || null };
    if (as === 'parked') return { as, ...shared, wakeOn: on, reason };
    return {
      as,
      ...shared,
      on,
      amountMinor,
      reason: reason.trim() || null,
      standingId: standingId as never,
      agreement: hasAgreement ? { ...agreement, currency: deal.currency } : null,
      ...(this.renews().length > 0 && { renewed: this.form.controls.renewed.controls.map(renewedOf) }),
      tick: [...this.ticked],
      handOnTo: handOnTo as never,
    };
  }
}
