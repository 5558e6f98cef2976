import { tableParts } from '../../kit/table';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CadenceSummary, CadenceVersion, CallOf } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { sayCount } from '@kettle/core/locale';
import { ChoiceField } from '../../kit/choice-field';
import type { Option } from '../../kit/form';
import { choiceParts } from '../../kit/choice';
import { DayPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { Undo } from '../../services/undo';

export interface MoveAsked {
  readonly to: CadenceSummary;
  /** Where each step of the version before stands now, as it was moved on the stave; null proposes by position. */
  readonly mapping: readonly (number | null)[] | null;
}

/** Takes people from an earlier version to the current one: where each step goes on, and what it means for each person. */
@Component({
  selector: 'kettle-move-runs-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    tableParts,
    ChoiceField,
    WhyNot,
    choiceParts,
    MatButtonModule,
    MatDialogModule,
    DayPipe,
    Failed,
    Waiting,
  ],
  template: `
    <h2 i18n mat-dialog-title>People on earlier versions of {{ asked.to.name }}</h2>
    <mat-dialog-content>
      <p i18n class="soft">
        They stay where they are until you move them. Nothing that was done is done again.
      </p>
      @if (behind().length > 1) {
        <kettle-choice-field
          label="Those on version"
          i18n-label
          [options]="choices()"
          [value]="from()?.id ?? null"
          (valueChange)="fromId.set($event)"
        />
      }
      @if (from(); as old) {
        <kettle-table [rows]="old.definition.steps" label="Where each step goes on" i18n-label>
          <ng-template
            [kettleColumn]="old.definition.steps"
            [head]="texts.whoIsAtStep(old.number)"
            let-step
            let-i="at"
          >
            <b>{{ i + 1 }}</b>
            {{ labels[step.channel].toLowerCase() }}
            <span class="soft">{{ step.purpose }}</span>
          </ng-template>
          <ng-template
            [kettleColumn]="old.definition.steps"
            [head]="texts.goesOnInVersion(asked.to.number)"
            let-i="at"
          >
            <kettle-choice-field
              [ariaLabel]="texts.stepGoesOnAt(i + 1)"
              [options]="ends()"
              [value]="mapping()[i] ?? null"
              (valueChange)="set(i, $event)"
            />
          </ng-template>
        </kettle-table>
        @if (preview.value(); as would) {
          <p>
            <b>{{ would.people.length }}</b>
            {{ leaving() > 0 ? texts.wouldMoveOfThem(leaving()) : texts.wouldMove }}
          </p>
          <ul class="would">
            @for (person of would.people; track person.runId) {
              <li>
                {{ person.name }}
                <span i18n class="soft">
                  step {{ person.from + 1 }} →
                  @if (person.to === null) {
                    leaves
                  } @else {
                    step {{ person.to + 1 }} · {{ person.nextOn | day: 'short' }}
                  }
                </span>
              </li>
            }
          </ul>
        } @else if (preview.state().kind === 'loading') {
          <kettle-waiting />
        }
        @if (preview.state(); as state) {
          @if (state.kind === 'failed') {
            <kettle-failed [problem]="state.problem" (again)="preview.again()" />
          }
        }
      } @else if (versions.value()) {
        <p i18n>Everybody is on the current version.</p>
      }
      @if (problem(); as wrong) {
        <p class="wrong" role="alert">{{ wrong.message }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" type="button" mat-dialog-close>Cancel</button>
      <button
        i18n
        matButton="filled"
        type="button"
        (click)="move()"
        [disabled]="isBusy()"
        disabledInteractive
        [kettleWhyNot]="preview.value()?.people?.length ? null : texts.nobodyIsOnThe"
      >
        Move {{ preview.value()?.people?.length ?? 0 }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
    }
    .would {
      max-block-size: 180px;
      overflow: auto;
    }
    .would li {
      padding-block: 3px;
      border-block-end: 1px solid var(--hairline);
    }
  `,
})
export class MoveRunsDialog {
  protected readonly texts = {
    whoIsAtStep: (number: string | number) => $localize`who is at step, in version ${number}:number:`,
    goesOnInVersion: (number: string | number) => $localize`goes on, in version ${number}:number:, at`,
    stepGoesOnAt: (i: string | number) => $localize`Step ${i}:i: goes on at`,
    wouldMoveOfThem: (leaving: string | number) => $localize`would move, ${leaving}:leaving: of them leave.`,
    wouldMove: $localize`would move.`,
    nobodyIsOnThe: $localize`Nobody is on the earlier version.`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<MoveRunsDialog>);
  protected readonly asked = inject<MoveAsked>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;

  protected readonly versions = reading((id: string) => this.api.call('listVersions', { params: { id } }));
  protected readonly behind = computed(() =>
    (this.versions.value()?.versions ?? []).filter(
      ({ id, running }) => id !== this.asked.to.versionId && running > 0,
    ),
  );
  /** Where a step may go on in the new version; null is its end. */
  protected readonly ends = computed((): readonly Option<number | null>[] => [
    { value: null, words: $localize`its end: they leave` },
    ...this.asked.to.definition.steps.map(({ channel, purpose }, at) => ({
      value: at,
      words: `${at + 1} ${this.labels[channel].toLowerCase()}: ${purpose}`,
    })),
  ]);
  protected readonly choices = computed(() =>
    this.behind().map(({ id, number, running }) => ({
      value: id as string,
      words: `${number} · ${sayCount(running, $localize`person|people`)}`,
    })),
  );
  protected readonly fromId = signal<string | null>(null);
  protected readonly from = computed(
    (): CadenceVersion | null =>
      this.behind().find(({ id }) => id === this.fromId()) ?? this.behind()[0] ?? null,
  );
  protected readonly mapping = linkedSignal((): (number | null)[] => {
    const from = this.from();
    if (from === null) return [];
    const drawn = from.number === this.asked.to.number - 1 ? this.asked.mapping : null;
    const last = this.asked.to.definition.steps.length - 1;
    return from.definition.steps.map((_, index) =>
      drawn ? (drawn[index] ?? null) : index <= last ? index : null,
    );
  });
  protected readonly preview = reading((body: CallOf<'moveRuns'>['body']) =>
    this.api.call('moveRuns', { params: { id: this.asked.to.id }, body }),
  );
  protected readonly leaving = computed(
    () => this.preview.value()?.people.filter(({ to }) => to === null).length ?? 0,
  );
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);

  constructor() {
    this.versions.read(this.asked.to.id);
    effect(() => {
      const body = this.body(true);
      untracked(() => {
        if (body !== null) this.preview.read(body);
      });
    });
  }

  protected set(index: number, goal: number | null): void {
    this.mapping.update((all) => all.map((step, at) => (at === index ? goal : step)));
  }

  protected move(): void {
    const body = this.body(false);
    if (body === null || this.isBusy()) return;
    this.isBusy.set(true);
    const changeId = v7();
    this.api.call('moveRuns', { params: { id: this.asked.to.id }, body }, changeId).subscribe({
      next: ({ people }) => {
        this.undo.offer(
          $localize`${people.length}:length: moved to version ${this.asked.to.number}:number:.`,
          changeId,
        );
        this.dialog.close();
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  private body(isDryRun: boolean): CallOf<'moveRuns'>['body'] | null {
    const from = this.from();
    return from === null
      ? null
      : { fromVersionId: from.id, toVersionId: this.asked.to.versionId, mapping: this.mapping(), isDryRun };
  }
}
