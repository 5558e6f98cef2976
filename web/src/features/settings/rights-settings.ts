import { ChangeDetectionStrategy, Component, inject, linkedSignal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatRadioModule } from '@angular/material/radio';
import type { RightsSettings } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { Failed, Waiting } from '../../kit/states';
import { Undo } from '../../services/undo';

type Key = 'reading' | 'sharing' | 'exports' | 'releases';

interface Question {
  readonly key: Key;
  readonly words: string;
  readonly answers: readonly { readonly value: RightsSettings[Key]; readonly words: string }[];
}

const questions: readonly Question[] = [
  {
    key: 'reading',
    words: 'Who reads whose people, companies, deals and leads',
    answers: [
      { value: 'all', words: 'Everybody reads all' },
      { value: 'team', words: 'Their own, their team’s and nobody’s' },
      { value: 'own', words: 'Their own and nobody’s; a manager also their people’s' },
    ],
  },
  {
    key: 'sharing',
    words: 'For whose people an entry may count, beside the one it is about',
    answers: [
      { value: 'own', words: 'Only one’s own' },
      { value: 'deal-team', words: 'Also people of colleagues in the team of the same deal' },
      { value: 'all', words: 'Everyone’s' },
    ],
  },
  {
    key: 'exports',
    words: 'Who may export people as a file; each export is on record',
    answers: [
      { value: 'rep', words: 'Everybody' },
      { value: 'manager', words: 'Managers and admins' },
      { value: 'admin', words: 'Admins' },
    ],
  },
  {
    key: 'releases',
    words: 'Whose changes of templates, snippets and cadences that send by themselves hold at once',
    answers: [
      { value: 'rep', words: 'Everyone’s' },
      { value: 'manager', words: 'Managers’ and admins’; a rep’s wait for one of them' },
      { value: 'admin', words: 'Admins’; everybody else’s wait for one of them' },
    ],
  },
];

/** Who may read and share what; an admin decides. */
@Component({
  selector: 'kettle-rights-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Conflicts, Failed, FormsModule, MatRadioModule, Waiting],
  template: `
    <section aria-labelledby="rights">
      <h2 id="rights">Rights</h2>
      <p class="soft">
        Everybody changes what is theirs or nobody’s; managers also what belongs to their people; admins all.
      </p>
      @if (chosen(); as it) {
        <form (ngSubmit)="save()">
          @for (question of questions; track question.key) {
            <fieldset>
              <legend>{{ question.words }}</legend>
              <mat-radio-group
                [name]="question.key"
                [ngModel]="it[question.key]"
                (ngModelChange)="set(question.key, $event)"
                [attr.aria-label]="question.words"
              >
                @for (answer of question.answers; track answer.value) {
                  <mat-radio-button [value]="answer.value">{{ answer.words }}</mat-radio-button>
                }
              </mat-radio-group>
            </fieldset>
          }
          @if (saving.problem(); as problem) {
            <p class="wrong" role="alert">{{ problem.message }}</p>
          }
          <kettle-conflicts
            [problem]="saving.problem()"
            [sent]="saving.sent()"
            [label]="labelOf"
            [say]="sayOf"
            [(choices)]="saving.choices"
          />
          <button matButton="filled">Save rights</button>
        </form>
      } @else if (stored.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (stored.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="stored.again()" />
        }
      }
    </section>
  `,
  styleUrl: './settings-part.scss',
  styles: `
    fieldset {
      border: 0;
      margin: 0 0 var(--space-4);
      padding: 0;
    }
    legend {
      font-weight: 600;
      padding: 0;
    }
    mat-radio-button {
      --mat-radio-label-text-tracking: normal;
      --mat-radio-label-text-size: var(--text-body);
    }
    mat-radio-group {
      display: flex;
      flex-direction: column;
    }
  `,
})
export class RightsSettingsPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly questions = questions;
  protected readonly stored = reading((_: null) => this.api.call('rightsSettings'));
  protected readonly chosen = linkedSignal((): RightsSettings | null => this.stored.value());
  protected readonly saving = new Submission();
  protected readonly labelOf = (path: string) => questions.find(({ key }) => key === path)?.words ?? null;
  protected readonly sayOf = (path: string, value: unknown) =>
    questions.find(({ key }) => key === path)?.answers.find((answer) => answer.value === value)?.words ??
    null;

  constructor() {
    this.stored.read(null);
  }

  protected set(key: Key, value: RightsSettings[Key]): void {
    this.chosen.update((chosen) => chosen && { ...chosen, [key]: value });
  }

  protected save(): void {
    const chosen = this.chosen();
    if (chosen === null) return;
    const changeId = v7();
    this.api.call('changeRightsSettings', { body: this.saving.bodyOf(chosen) }, changeId).subscribe({
      next: (saved) => {
        this.stored.put(saved);
        this.saving.clear();
        this.undo.offer('Rights saved: they hold from now on.', changeId, () => this.stored.again());
      },
      error: this.saving.refuse,
    });
  }
}
