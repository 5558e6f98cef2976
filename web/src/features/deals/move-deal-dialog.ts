import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, CustomField, DealFact, DealRow, Stage } from '@kettle/contract';
import { stageLike } from '@kettle/core/deals';
import { readMoney } from '@kettle/core/money';
import { Api, ApiProblem, problemOf } from '../../api/api';
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
  imports: [FormsModule, MatDialogModule, PersonPicker, CustomInputs, LineEditor],
  template: `
    <h2 mat-dialog-title>{{ asked.deal.name }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          @if (words.pipelines().length > 1) {
            <label class="field wide">
              <span>Pipeline</span>
              <select name="pipeline" [ngModel]="pipelineId()" (ngModelChange)="choosePipeline($event)">
                @for (pipeline of words.pipelines(); track pipeline.id) {
                  <option [value]="pipeline.id">{{ pipeline.name }}</option>
                }
              </select>
            </label>
          }
          <label class="field">
            <span>Stage</span>
            <select
              name="stage"
              [ngModel]="stageId()"
              (ngModelChange)="stageId.set($event)"
              [attr.cdkFocusInitial]="asked.first === 'close' ? null : ''"
            >
              @for (stage of stages(); track stage.id) {
                <option [value]="stage.id">
                  {{ stage.name }} · {{ (stage.winProbability * 100).toFixed(0) }} %
                </option>
              }
            </select>
          </label>
          <label class="field">
            <span>Expected close</span>
            <input
              name="close"
              type="date"
              [(ngModel)]="closeOn"
              [attr.cdkFocusInitial]="asked.first === 'close' ? '' : null"
            />
          </label>
          @for (fact of plainFacts(); track fact) {
            @switch (fact) {
              @case ('amount') {
                <label class="field">
                  <span>Value</span>
                  <input
                    name="amount"
                    inputmode="decimal"
                    [(ngModel)]="amount"
                    placeholder="4,400"
                    required
                  />
                </label>
              }
              @case ('decision') {
                <label class="field">
                  <span>They decide on</span>
                  <input name="decision" type="date" [(ngModel)]="decisionOn" required />
                </label>
              }
              @case ('decider') {
                <div class="field">
                  <span>Who decides</span>
                  <kettle-person-picker label="Who decides" [value]="decider" (picked)="decider = $event" />
                </div>
              }
              @case ('signer') {
                <div class="field">
                  <span>Who signs</span>
                  <kettle-person-picker label="Who signs" [value]="signer" (picked)="signer = $event" />
                </div>
              }
              @case ('competitor') {
                <label class="field">
                  <span>Competitor</span>
                  <input name="competitor" [(ngModel)]="competitor" maxlength="120" required />
                </label>
              }
            }
          }
          <kettle-custom-inputs [fields]="ownFacts()" [values]="custom" [problem]="problem()" />
        </div>
        @for (prompt of prompts(); track prompt.id) {
          <label class="tick">
            <input type="checkbox" [name]="prompt.id" (change)="turn(prompt.id)" />
            {{ prompt.text }}
          </label>
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
        <button type="button" class="act" mat-dialog-close>Cancel</button>
        <button class="act main">Move it</button>
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
