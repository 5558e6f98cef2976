import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormGroup } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, CustomField, DealFact, DealRow } from '@kettle/contract';
import { stageLike } from '@kettle/core/deals';
import { catchError, throwError } from 'rxjs';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, named, RecordForm } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { addCustomControls, customControls, CustomInputs, PersonPicker, readCustom } from '../fields/index';
import { DealWords, stageWords } from './deal-words';
import { LineEditor, lineOf, type TypedLine } from './line-editor';

export interface MoveAsked {
  readonly deal: DealRow;
  readonly stageId?: string;
  readonly expectedCloseOn?: string | null;
  /** What a move was refused for, to be said here. */
  readonly problem?: ApiProblem;
  readonly first?: 'stage' | 'close';
  /** What the move is sent under, for a page that offers to undo it. */
  readonly changeId?: string;
}

interface Asked {
  readonly facts?: readonly DealFact[];
  readonly prompts?: readonly { readonly id: string; readonly text: string }[];
}

/**
 * Puts a deal into another stage, pipeline or month by the keyboard. What the stage asks for is asked here, and what its
 * brief wants ticked; nothing that was typed is lost when there is more to ask.
 */
@Component({
  selector: 'kettle-move-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts, MatCheckboxModule, PersonPicker, CustomInputs, LineEditor],
  template: `
    <kettle-dialog-form [title]="asked.deal.name" act="Move it" i18n-act [form]="form" (save)="save()">
      <div class="form-grid">
        @if (words.pipelines().length > 1) {
          <kettle-choice-field
            class="wide"
            label="Pipeline"
            i18n-label
            [value]="pipelineId()"
            (valueChange)="choosePipeline($event)"
            [options]="pipelines()"
          />
        }
        <kettle-choice-field
          label="Stage"
          i18n-label
          [formControl]="at.stageId"
          [options]="stages()"
          [startsHere]="asked.first !== 'close'"
        />
        <kettle-day-field
          label="Expected close"
          i18n-label
          [formControl]="at.expectedCloseOn"
          [startsHere]="asked.first === 'close'"
        />
        @for (fact of plainFacts(); track fact) {
          @switch (fact) {
            @case ('amount') {
              <kettle-number-field
                kind="money"
                [currency]="asked.deal.currency"
                label="Value"
                i18n-label
                [formControl]="facts.amountMinor"
                placeholder="4,400"
                required
              />
            }
            @case ('decision') {
              <kettle-day-field label="They decide on" i18n-label [formControl]="facts.decisionOn" required />
            }
            @case ('decider') {
              <kettle-person-picker label="Who decides" i18n-label [formControl]="facts.decider" required />
            }
            @case ('signer') {
              <kettle-person-picker label="Who signs" i18n-label [formControl]="facts.signer" required />
            }
            @case ('competitor') {
              <kettle-text-field
                label="Competitor"
                i18n-label
                [formControl]="facts.competitor"
                [most]="120"
                required
              />
            }
          }
        }
        <kettle-custom-inputs [fields]="ownFacts()" [controls]="facts.custom" />
      </div>
      @for (prompt of prompts(); track prompt.id) {
        <mat-checkbox (change)="turn(prompt.id)">{{ prompt.text }}</mat-checkbox>
      }
      @if (needed().includes('lines')) {
        <section aria-label="Product lines" i18n-aria-label>
          <kettle-line-editor
            [(lines)]="lines"
            [currency]="asked.deal.currency"
            [problem]="form.submission.problem()"
            under="facts.lines"
          />
        </section>
      }
      @if (theirs(); as other) {
        <p i18n class="soft">
          Now: {{ words.stage(other.stageId)?.name }}, closes {{ other.expectedCloseOn ?? texts.noDate }}.
          Moving it again puts yours in its place.
        </p>
      }
    </kettle-dialog-form>
  `,
})
export class MoveDealDialog {
  protected readonly texts = {
    noDate: $localize`no date`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<MoveDealDialog>);
  protected readonly words = inject(DealWords);
  private readonly user = inject(CurrentUser);
  protected readonly asked = inject<MoveAsked>(MAT_DIALOG_DATA);
  /** The other person's version, when ours was out of date. */
  protected readonly theirs = signal<DealRow | null>(null);
  private version = this.asked.deal.version;
  /** What the stage asks for, as far as it is known. */
  protected readonly needed = signal<readonly DealFact[]>([]);
  protected readonly prompts = signal<NonNullable<Asked['prompts']>>([]);
  protected readonly form = new RecordForm({
    stageId: field<string>(this.asked.stageId ?? this.asked.deal.stageId),
    expectedCloseOn: field(
      (this.asked.expectedCloseOn === undefined
        ? this.asked.deal.expectedCloseOn
        : this.asked.expectedCloseOn) ?? '',
    ),
    facts: new FormGroup({
      amountMinor: field<number | null>(null),
      decisionOn: field(''),
      decider: field(''),
      signer: field(''),
      competitor: field(''),
      custom: customControls(),
    }),
  });
  protected readonly at = this.form.controls;
  protected readonly facts = this.at.facts.controls;
  private readonly stageId = toSignal(this.at.stageId.valueChanges, {
    initialValue: this.at.stageId.value,
  });
  private readonly pipeline = computed(() => this.words.pipelineOf(this.stageId()));
  protected readonly pipelineId = computed((): string => this.pipeline()?.id ?? '');
  protected readonly pipelines = computed(() => named<string>(this.words.pipelines()));
  protected readonly stages = computed(() =>
    (this.pipeline()?.stages ?? []).map((stage) => ({
      value: stage.id as string,
      words: stageWords(stage),
    })),
  );
  protected readonly plainFacts = computed(() => this.needed().filter((fact) => !fact.startsWith('custom:')));
  protected readonly ownFacts = computed((): CustomField[] =>
    this.words.fields().filter(({ id }) => this.needed().includes(`custom:${id}`)),
  );
  protected readonly lines = signal<readonly TypedLine[]>([]);
  private readonly ticked = new Set<string>();

  constructor() {
    this.words.wake();
    effect(() => addCustomControls(this.facts.custom, {}, this.ownFacts(), this.user.currency()));
    if (this.asked.problem) this.form.submission.problem.set(this.refused(this.asked.problem));
  }

  /** The stage of the other pipeline that is most like this one is proposed. */
  protected choosePipeline(id: string | null): void {
    const from = this.words.stage(this.stageId());
    const among = this.words.pipelines().find((pipeline) => pipeline.id === id)?.stages ?? [];
    const like = from ? stageLike(from, among) : among[0];
    if (like) this.at.stageId.setValue(like.id);
  }

  protected turn(promptId: string): void {
    if (!this.ticked.delete(promptId)) this.ticked.add(promptId);
  }

  protected save(): void {
    const custom = readCustom(this.facts.custom, this.ownFacts(), {}, this.user.currency());
    if (custom instanceof ApiProblem) return this.form.submission.problem.set(custom);
    const { stageId, expectedCloseOn } = this.form.getRawValue();
    const body = {
      version: this.version,
      stageId,
      expectedCloseOn: expectedCloseOn || null,
      tick: [...this.ticked],
      facts: { ...this.said(), custom },
    };
    const params = { id: this.asked.deal.id };
    this.form.send(
      body,
      (sent) =>
        this.api
          .call(
            'moveDeal',
            { params, body: sent as NonNullable<CallOf<'moveDeal'>['body']> },
            this.asked.changeId,
          )
          .pipe(catchError((error: unknown) => throwError(() => this.refused(problemOf(error))))),
      (moved) => this.dialog.close(moved),
    );
  }

  /** What is asked for is added to what was asked before, so that nothing typed goes from the screen. */
  private refused(problem: ApiProblem): ApiProblem {
    const { facts = [], prompts = [] } = (problem.current ?? {}) as Asked;
    if (problem.code === 'facts-needed')
      this.needed.update((known) => [...known, ...facts.filter((fact) => !known.includes(fact))]);
    if (problem.code === 'brief-open')
      this.prompts.update((known) => [
        ...known,
        ...prompts.filter(({ id }) => !known.some((prompt) => prompt.id === id)),
      ]);
    if (problem.code !== 'stale') return problem;
    // The next try is made over their version, knowingly; what was typed stands.
    const theirs = problem.current as DealRow;
    this.version = theirs.version;
    this.theirs.set(theirs);
    return new ApiProblem('changed', problem.message);
  }

  private said() {
    const { amountMinor, decisionOn, decider, signer, competitor } = this.at.facts.getRawValue();
    return {
      ...(amountMinor === null ? {} : { amountMinor }),
      ...(decisionOn ? { decisionOn } : {}),
      ...(decider ? { decider } : {}),
      ...(signer ? { signer } : {}),
      ...(competitor.trim() ? { competitor } : {}),
      ...(this.lines().length > 0
        ? { lines: this.lines().map((line) => lineOf(line, this.asked.deal.currency)) }
        : {}),
    };
  }
}
