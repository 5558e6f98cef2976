import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { noticeKinds, type NoticeKind, type ToldChoice, type ToldSettings } from '@kettle/contract';
import { plainTime, readTypedMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { field, keptSettings, type Option, pageFormParts, RecordForm } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { BrowserNotices } from '../../services/browser-notices';

const words: Readonly<Record<NoticeKind, string>> = {
  given: $localize`What is given to me: tasks, people, deals, leads, appointments`,
  changed: $localize`What colleagues change in my records`,
  answer: $localize`Somebody answered, wrote or called`,
  mention: $localize`Comments that name me`,
  time: $localize`Reminders of what was promised for a time`,
  quiet: $localize`People who have gone quiet`,
  renewal: $localize`Renewals that come up, and notices that close`,
  waking: $localize`Parked deals that wake`,
  trouble: $localize`What did not go out, or failed`,
  release: $localize`Wordings to release, and what became of mine`,
};

const levels: readonly Option<ToldChoice['level']>[] = [
  { value: 'all', words: $localize`all` },
  { value: 'important', words: $localize`important` },
  { value: 'none', words: $localize`none` },
];

const controlsOf = (choice: ToldChoice) =>
  new FormGroup({
    kind: field(choice.kind),
    level: field(choice.level),
    byBrowser: field(choice.byBrowser),
    byMail: field(choice.byMail),
  });

/** Both ends, or none. */
function quietOf(from: string, to: string): ToldSettings['quietHours'] {
  const [first, last] = [readTypedMinute(from), readTypedMinute(to)];
  return first === null || last === null ? null : { from: first, to: last };
}

/** How I am told of what: by the bell, the browser and by mail, and whether the day comes by mail in the morning. */
@Component({
  selector: 'kettle-told-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, TimeField, MatButtonModule, MatCheckboxModule],
  template: `
    <section aria-labelledby="told">
      <h2 i18n id="told">What I am told</h2>
      <kettle-page-form
        act="Save what I am told"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        (save)="settings.save()"
      >
        <table>
          <thead>
            <tr>
              <th i18n>Of</th>
              <th i18n>Bell</th>
              <th i18n>Browser</th>
              <th i18n>Mail</th>
            </tr>
          </thead>
          <tbody>
            @for (line of lines(); track line.controls.kind.value) {
              <tr>
                <th>{{ words[line.controls.kind.value] }}</th>
                <td>
                  <kettle-choice-field
                    [ariaLabel]="texts.bell(words[line.controls.kind.value])"
                    [options]="line.controls.kind.value === 'mention' ? always : levels"
                    [formControl]="line.controls.level"
                  />
                </td>
                <td>
                  <mat-checkbox
                    [formControl]="line.controls.byBrowser"
                    [aria-label]="texts.browser(words[line.controls.kind.value])"
                  />
                </td>
                <td>
                  <mat-checkbox
                    [formControl]="line.controls.byMail"
                    [aria-label]="texts.mail(words[line.controls.kind.value])"
                  />
                </td>
              </tr>
            }
          </tbody>
        </table>
        <kettle-time-field
          label="My day by mail, at (empty: not)"
          i18n-label
          [formControl]="form.controls.digest"
        />
        <div class="hours">
          <kettle-time-field
            label="Quiet from (empty: never)"
            i18n-label
            [formControl]="form.controls.quietFrom"
          />
          <kettle-time-field label="Quiet until" i18n-label [formControl]="form.controls.quietTo" />
        </div>
        <p i18n class="soft">
          In quiet hours neither browser nor mail tells anything; the mail comes when they end. Whoever names
          you is always told by the bell.
        </p>
        <p i18n class="soft">
          Nothing comes on your days off. Important are answers, mentions, times and trouble.
        </p>
        @switch (permission()) {
          @case ('default') {
            <p>
              <button i18n matButton="outlined" type="button" (click)="allow()">
                Let this browser tell me
              </button>
              <span i18n class="soft">
                It has not been asked yet. It tells while the page is not looked at.
              </span>
            </p>
          }
          @case ('denied') {
            <p i18n class="soft">
              This browser does not let the page tell you anything. Its settings change that.
            </p>
          }
          @case ('granted') {
            <p i18n class="soft">This browser tells you while the page is not looked at.</p>
          }
        }
      </kettle-page-form>
    </section>
  `,
  styles: `
    table {
      border-collapse: collapse;
    }
    th,
    td {
      padding: 2px var(--space-3) 2px 0;
      border-block-end: 1px solid var(--hairline);
      text-align: start;
      font-weight: 400;
    }
    thead th {
      color: var(--text-soft);
      font-size: var(--text-small);
    }
    .hours {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-3);
    }
    td kettle-choice-field {
      inline-size: 120px;
    }
  `,
  styleUrl: './settings-part.scss',
})
export class ToldSettingsPart {
  protected readonly texts = {
    bell: (of: string) => $localize`By the bell: ${of}:of:`,
    browser: (of: string) => $localize`By the browser: ${of}:of:`,
    mail: (of: string) => $localize`By mail: ${of}:of:`,
  };
  protected readonly words = words;
  protected readonly levels = levels;
  /** Whoever is named is told: there is no “none”. */
  protected readonly always = levels.filter(({ value }) => value !== 'none');
  private readonly api = inject(Api);
  private readonly browser = inject(BrowserNotices);
  protected readonly permission = signal(this.browser.permission());
  /** The lines as they are shown: those of the form. */
  protected readonly lines = signal<readonly ReturnType<typeof controlsOf>[]>([]);
  protected readonly form = new RecordForm({
    choices: new FormArray<ReturnType<typeof controlsOf>>([]),
    digest: field(''),
    quietFrom: field(''),
    quietTo: field(''),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('toldSettings'),
    save: (body: ToldSettings, changeId) => this.api.call('changeToldSettings', { body }, changeId),
    body: () => ({
      choices: this.form.controls.choices.getRawValue(),
      digestMinute: readTypedMinute(this.form.controls.digest.value),
      quietHours: quietOf(this.form.controls.quietFrom.value, this.form.controls.quietTo.value),
    }),
    fill: ({ choices, digestMinute, quietHours }) => {
      const lines = noticeKinds.map((kind) => controlsOf(choices.find((each) => each.kind === kind)!));
      this.form.setControl('choices', new FormArray(lines));
      this.lines.set(lines);
      this.form.controls.digest.setValue(digestMinute === null ? '' : plainTime(digestMinute));
      this.form.controls.quietFrom.setValue(quietHours === null ? '' : plainTime(quietHours.from));
      this.form.controls.quietTo.setValue(quietHours === null ? '' : plainTime(quietHours.to));
    },
    saved: $localize`Saved: you are told like this from now on.`,
  });

  protected async allow(): Promise<void> {
    this.permission.set(await this.browser.ask());
  }
}
