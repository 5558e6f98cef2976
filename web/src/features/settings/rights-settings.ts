import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatRadioModule } from '@angular/material/radio';
import type { RightsSettings } from '@kettle/contract';
import { Api } from '../../api/api';
import { field, keptSettings, pageFormParts, RecordForm } from '../../kit/form';

type Key = 'reading' | 'sharing' | 'exports' | 'releases';

interface Question {
  readonly key: Key;
  readonly words: string;
  readonly answers: readonly { readonly value: RightsSettings[Key]; readonly words: string }[];
}

const questions: readonly Question[] = [
  {
    key: 'reading',
    words: $localize`Who reads whose people, companies, deals and leads`,
    answers: [
      { value: 'all', words: $localize`Everybody reads all` },
      { value: 'team', words: $localize`Their own, their team’s and nobody’s` },
      { value: 'own', words: $localize`Their own and nobody’s; a manager also their people’s` },
    ],
  },
  {
    key: 'sharing',
    words: $localize`For whose people an entry may count, beside the one it is about`,
    answers: [
      { value: 'own', words: $localize`Only one’s own` },
      { value: 'deal-team', words: $localize`Also people of colleagues in the team of the same deal` },
      { value: 'all', words: $localize`Everyone’s` },
    ],
  },
  {
    key: 'exports',
    words: $localize`Who may export people as a file; each export is on record`,
    answers: [
      { value: 'rep', words: $localize`Everybody` },
      { value: 'manager', words: $localize`Managers and admins` },
      { value: 'admin', words: $localize`Admins` },
    ],
  },
  {
    key: 'releases',
    words: $localize`Whose changes of templates, snippets and cadences that send by themselves hold at once`,
    answers: [
      { value: 'rep', words: $localize`Everyone’s` },
      { value: 'manager', words: $localize`Managers’ and admins’; a rep’s wait for one of them` },
      { value: 'admin', words: $localize`Admins’; everybody else’s wait for one of them` },
    ],
  },
];

/** Who may read and share what; an admin decides. */
@Component({
  selector: 'kettle-rights-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatRadioModule],
  template: `
    <section aria-labelledby="rights">
      <h2 i18n id="rights">Rights</h2>
      <p i18n class="soft">
        Everybody changes what is theirs or nobody’s; managers also what belongs to their people; admins all.
      </p>
      <kettle-page-form
        act="Save rights"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        [named]="labelOf"
        [say]="sayOf"
        (save)="settings.save()"
      >
        @for (question of questions; track question.key) {
          <fieldset>
            <legend>{{ question.words }}</legend>
            <mat-radio-group [formControl]="form.controls[question.key]" [attr.aria-label]="question.words">
              @for (answer of question.answers; track answer.value) {
                <mat-radio-button [value]="answer.value">{{ answer.words }}</mat-radio-button>
              }
            </mat-radio-group>
          </fieldset>
        }
      </kettle-page-form>
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
  `,
})
export class RightsSettingsPart {
  private readonly api = inject(Api);
  protected readonly questions = questions;
  protected readonly form = new RecordForm({
    reading: field<RightsSettings['reading']>('all'),
    sharing: field<RightsSettings['sharing']>('deal-team'),
    exports: field<RightsSettings['exports']>('admin'),
    releases: field<RightsSettings['releases']>('admin'),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('rightsSettings'),
    save: (body: RightsSettings, changeId) => this.api.call('changeRightsSettings', { body }, changeId),
    saved: $localize`Rights saved: they hold from now on.`,
  });
  protected readonly labelOf = (path: string) => questions.find(({ key }) => key === path)?.words ?? null;
  protected readonly sayOf = (path: string, value: unknown) =>
    questions.find(({ key }) => key === path)?.answers.find((answer) => answer.value === value)?.words ??
    null;
}
