import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, CustomField, DealFact, DealRow, Stage } from '@kettle/contract';
import { stageLike } from '@kettle/core/deals';
import { readMoney } from '@kettle/core/money';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { CustomInputs, PersonPicker, readCustomTexts } from '../fields/index';
import { DealWords } from './deal-words';
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
  imports: [
    DayField,
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    FormsModule,
    MatDialogModule,
    PersonPicker,
    CustomInputs,
    LineEditor,
  ],
  template: `
    <h2 mat-dialog-title>{{ asked.deal.name }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          @if (words.pipelines().length > 1) {
            <mat-form-field class="wide">
              <mat-label>Pipeline</mat-label>
              <mat-select name="pipeline" [ngModel]="pipelineId()" (ngModelChange)="choosePipeline($event)">
                @for (pipeline of words.pipelines(); track pipeline.id) {
                  <mat-option [value]="pipeline.id">{{ pipeline.name }}</mat-option>
                }
              </mat-select>
            </mat-form-field>
          }
          <mat-form-field>
            <mat-label>Stage</mat-label>
            <mat-select
              name="stage"
              [ngModel]="stageId()"
              (ngModelChange)="stageId.set($event)"
              [attr.cdkFocusInitial]="asked.first === 'close' ? null : ''"
            >
              @for (stage of stages(); track stage.id) {
                <mat-option [value]="stage.id">
                  {{ stage.name }} · {{ (stage.winProbability * 100).toFixed(0) }} %
                </mat-option>
              }
            </mat-select>
          </mat-form-field>
          <kettle-day-field
            label="Expected close"
            name="close"
            [(ngModel)]="closeOn"
            [attr.cdkFocusInitial]="asked.first === 'close' ? '' : null"
          />
          @for (fact of plainFacts(); track fact) {
            @switch (fact) {
              @case ('amount') {
                <mat-form-field>
                  <mat-label>Value</mat-label>
                  <input
                    matInput
                    name="amount"
                    inputmode="decimal"
                    [(ngModel)]="amount"
                    placeholder="4,400"
                    required
                  />
                </mat-form-field>
              }
              @case ('decision') {
                <kettle-day-field label="They decide on" name="decision" [(ngModel)]="decisionOn" required />
              }
              @case ('decider') {
                <kettle-person-picker label="Who decides" [value]="decider" (picked)="decider = $event" />
              }
              @case ('signer') {
                <kettle-person-picker label="Who signs" [value]="signer" (picked)="signer = $event" />
              }
              @case ('competitor') {
                <mat-form-field>
                  <mat-label>Competitor</mat-label>
                  <input matInput name="competitor" [(ngModel)]="competitor" maxlength="120" required />
                </mat-form-field>
              }
            }
          }
          <kettle-custom-inputs [fields]="ownFacts()" [values]="custom" [problem]="problem()" />
        </div>
        @for (prompt of prompts(); track prompt.id) {
          <mat-checkbox [name]="prompt.id" (change)="turn(prompt.id)" class="tick">
            {{ prompt.text }}
          </mat-checkbox>
        }
        @if (facts().includes('lines')) {
          <section aria-label="Product lines">
            <kettle-line-editor [(lines)]="lines" [problem]="problem()" under="facts.lines" />
          </section>
        }
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }} {{ wrong.fields[0]?.message }}</p>
        }
        @if (theirs(); as other) {
          <p class="soft">
            Now: {{ words.stage(other.stageId)?.name }}, closes {{ other.expectedCloseOn ?? 'no date' }}.
            Moving it again puts yours in its place.
          </p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Move it</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    .tick {
      display: block;
      padding-block-start: var(--space-2);
    }
    section {
      padding-block-start: var(--space-3);
    }
    p {
      padding-block-start: var(--space-2);
    }
  `,
})
export class MoveDealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<MoveDealDialog>);
  protected readonly words = inject(DealWords);
  protected readonly asked = inject<MoveAsked>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(this.asked.problem ?? null);
  /** The other person's version, when ours was out of date. */
  protected readonly theirs = computed(() =>
    this.problem()?.code === 'stale' ? (this.problem()?.current as DealRow) : null,
  );
  private version = this.asked.deal.version;
  protected readonly facts = signal<readonly DealFact[]>([]);
  protected readonly prompts = signal<NonNullable<Asked['prompts']>>([]);
  protected readonly stageId = signal<string>(this.asked.stageId ?? this.asked.deal.stageId);
  protected readonly pipelineId = computed(() => this.words.pipelineOf(this.stageId())?.id ?? '');
  protected readonly stages = computed(
    (): readonly Stage[] => this.words.pipelineOf(this.stageId())?.stages ?? [],
  );
  protected readonly plainFacts = computed(() => this.facts().filter((fact) => !fact.startsWith('custom:')));
  protected readonly ownFacts = computed((): CustomField[] =>
    this.words.fields().filter(({ id }) => this.facts().includes(`custom:${id}`)),
  );
  protected closeOn: string =
    (this.asked.expectedCloseOn === undefined
      ? this.asked.deal.expectedCloseOn
      : this.asked.expectedCloseOn) ?? '';
  protected amount = '';
  protected decisionOn = '';
  protected decider = '';
  protected signer = '';
  protected competitor = '';
  protected readonly lines = signal<readonly TypedLine[]>([]);
  protected readonly custom: Record<string, string> = {};
  private readonly ticked = new Set<string>();

  constructor() {
    this.words.wake();
    if (this.asked.problem) this.askFor(this.asked.problem);
  }

  /** The stage of the other pipeline that is most like this one is proposed. */
  protected choosePipeline(id: string): void {
    const from = this.words.stage(this.stageId());
    const among = this.words.pipelines().find((pipeline) => pipeline.id === id)?.stages ?? [];
    const like = from ? stageLike(from, among) : among[0];
    if (like) this.stageId.set(like.id);
  }

  protected turn(promptId: string): void {
    if (!this.ticked.delete(promptId)) this.ticked.add(promptId);
  }

  protected save(): void {
    const { deal } = this.asked;
    const custom = readCustomTexts(this.custom, this.ownFacts(), {});
    if (custom instanceof ApiProblem) return this.problem.set(custom);
    const body = {
      version: this.version,
      stageId: this.stageId(),
      expectedCloseOn: this.closeOn || null,
      tick: [...this.ticked],
      facts: { ...this.said(), custom },
    } as NonNullable<CallOf<'moveDeal'>['body']>;
    this.api.call('moveDeal', { params: { id: deal.id }, body }, this.asked.changeId).subscribe({
      next: (moved) => this.dialog.close(moved),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        this.askFor(problem);
        // The next try is made over their version, knowingly; what was typed stands.
        if (problem.code === 'stale') this.version = (problem.current as DealRow).version;
      },
    });
  }

  /** What is asked for is added to what was asked before, so that nothing typed goes from the screen. */
  private askFor(problem: ApiProblem): void {
    const { facts = [], prompts = [] } = (problem.current ?? {}) as Asked;
    if (problem.code === 'facts-needed')
      this.facts.update((known) => [...known, ...facts.filter((fact) => !known.includes(fact))]);
    if (problem.code === 'brief-open')
      this.prompts.update((known) => [
        ...known,
        ...prompts.filter(({ id }) => !known.some((prompt) => prompt.id === id)),
      ]);
  }

  private said() {
    const amountMinor = this.amount === '' ? null : readMoney(this.amount);
    return {
      ...(amountMinor === null ? {} : { amountMinor }),
      ...(this.decisionOn ? { decisionOn: this.decisionOn } : {}),
      ...(this.decider ? { decider: this.decider } : {}),
      ...(this.signer ? { signer: this.signer } : {}),
      ...(this.competitor.trim() ? { competitor: this.competitor } : {}),
      ...(this.lines().length > 0 ? { lines: this.lines().map(lineOf) } : {}),
    };
  }
}
