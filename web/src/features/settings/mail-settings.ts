import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CallOf } from '@kettle/contract';
import { Api } from '../../api/api';
import { field, keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';

type Settings = NonNullable<CallOf<'changeMailSettings'>['body']>;

/** How mail goes out: how much a day, how fast, how long it can be undone, and whether it is followed. */
@Component({
  selector: 'kettle-mail-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatCheckboxModule],
  template: `
    <section aria-labelledby="mail">
      <h2 i18n id="mail">Mail going out</h2>
      <p i18n class="soft">
        For each sender. The servers themselves are set where the application is started.
      </p>
      <kettle-page-form
        act="Save how mail goes out"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        [named]="labelOf"
        (save)="settings.save()"
      >
        <div class="form-grid">
          @for (each of numbers; track each.key) {
            <kettle-number-field
              [label]="each.words"
              [formControl]="form.controls[each.key]"
              [min]="each.min"
              [max]="each.max"
            />
          }
        </div>
        @for (each of switches; track each.key) {
          <mat-checkbox [formControl]="form.controls[each.key]">{{ each.words }}</mat-checkbox>
        }
      </kettle-page-form>
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class MailSettingsPart {
  private readonly api = inject(Api);
  protected readonly form = new RecordForm({
    dailyLimit: required<number>(null),
    paceSeconds: required<number>(null),
    graceSeconds: required<number>(null),
    tracksOpens: field(false),
    tracksClicks: field(false),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('mailSettings'),
    save: (body: Settings, changeId) => this.api.call('changeMailSettings', { body }, changeId),
    saved: $localize`Saved: mail goes out like this from now on.`,
  });
  protected readonly labelOf = (path: string) =>
    [...this.numbers, ...this.switches].find(({ key }) => key === path)?.words ?? null;
  protected readonly numbers = [
    { key: 'dailyLimit', words: $localize`Mails a day at most`, min: 1, max: 2000 },
    { key: 'paceSeconds', words: $localize`Seconds between two`, min: 0, max: 3600 },
    {
      key: 'graceSeconds',
      words: $localize`Seconds in which a mail can still be cancelled`,
      min: 0,
      max: 600,
    },
  ] as const;
  protected readonly switches = [
    { key: 'tracksOpens', words: $localize`See when a mail is opened, by a picture in it` },
    { key: 'tracksClicks', words: $localize`See when a link is followed, by links of ours` },
  ] as const;
}
