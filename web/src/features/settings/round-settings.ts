import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { type FormControl, FormGroup } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { RoundSettingsBody } from '@kettle/contract';
import { channelKindOf, channelNames, ofChannels } from '@kettle/contract/base/channels';
import { sayMoney } from '@kettle/core/money';
import { Api } from '../../api/api';
import { field, keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';

interface Line {
  readonly path: string;
  readonly words: string;
  readonly kind: 'percent' | 'money' | 'decimal' | 'minutes';
  readonly min?: number;
  readonly max?: number;
}

const chances = [
  ['reply', $localize`an answer to somebody who wrote, at once`],
  ['lead', $localize`a new lead, tried at once`],
  ['task', $localize`a task, done on its day`],
  ['step', $localize`a step of a cadence, on its day`],
  ['waking', $localize`a parked deal, taken up on its day`],
  ['stirring', $localize`a sign of life, followed up at once`],
] as const;

const lines: readonly Line[] = [
  ...chances.map(([name, words]): Line => ({
    path: `p0.${name}`,
    words: $localize`Chance: ${words}`,
    kind: 'percent',
    max: 100,
  })),
  {
    path: 'silenceLossChance',
    words: $localize`Chance that silence loses a customer in a year`,
    kind: 'percent',
    max: 100,
  },
  {
    path: 'promiseMinor',
    words: $localize`Keeping a promise is worth at least (empty: a tenth of what an open deal usually weighs)`,
    kind: 'money',
  },
  { path: 'leadMinor', words: $localize`A contact without a deal is expected to bring`, kind: 'money' },
  {
    path: 'renewalHalfDays',
    words: $localize`Days before its deadline in which half of a renewal is decided`,
    kind: 'decimal',
    min: 0.5,
    max: 365,
  },
  {
    path: 'renewalLastDay',
    words: $localize`A renewal, called on its last day, is still saved`,
    kind: 'percent',
    max: 100,
  },
  {
    path: 'dealFloor',
    words: $localize`A deal left for long keeps of its chance`,
    kind: 'percent',
    max: 100,
  },
  {
    path: 'reserveMinutes',
    words: $localize`Kept free each day for what comes in`,
    kind: 'minutes',
    min: 0,
    max: 480,
  },
];

const lengths: readonly Line[] = channelNames.map((name) => ({
  path: `minutes.${name}`,
  words: channelKindOf(name).label,
  kind: 'minutes',
  min: 1,
  max: 480,
}));

/** What the Round reckons with: chances that acting on time brings what is at stake, what things are worth, how long they take. */
@Component({
  selector: 'kettle-round-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatCheckboxModule],
  template: `
    <section aria-labelledby="round">
      <h2 i18n id="round">Round</h2>
      <p i18n class="soft">
        The Round puts first what costs most to leave. The chances say how often acting then brings what is at
        stake.
      </p>
      <kettle-page-form
        act="Save the Round"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        [named]="labelOf"
        [say]="sayOf"
        (save)="settings.save()"
      >
        <div class="form-grid">
          @for (line of lines; track line.path) {
            <kettle-number-field
              [kind]="line.kind"
              [label]="line.kind === 'money' ? line.words + ', ' + user.currency() : line.words"
              [formControl]="controlAt(line.path)"
              [min]="line.min ?? null"
              [max]="line.max ?? null"
            />
          }
        </div>
        <mat-checkbox i18n [formControl]="form.controls.learnsLead">
          Learn each night, from your own leads and won deals, what a contact without a deal brings
        </mat-checkbox>
        <h3 i18n>How long it takes</h3>
        <p i18n class="soft">
          What a step by each channel takes unless it is said, and what is proposed for it.
        </p>
        <div class="form-grid">
          @for (line of lengths; track line.path) {
            <kettle-number-field
              kind="minutes"
              [label]="line.words"
              [formControl]="controlAt(line.path)"
              [min]="line.min ?? null"
              [max]="line.max ?? null"
            />
          }
        </div>
      </kettle-page-form>
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class RoundSettingsPart {
  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  protected readonly lines = lines;
  protected readonly lengths = lengths;
  protected readonly form = new RecordForm({
    p0: new FormGroup({
      reply: required<number>(null),
      lead: required<number>(null),
      task: required<number>(null),
      step: required<number>(null),
      waking: required<number>(null),
      stirring: required<number>(null),
    }),
    silenceLossChance: required<number>(null),
    promiseMinor: field<number | null>(null),
    leadMinor: required<number>(null),
    renewalHalfDays: required<number>(null),
    renewalLastDay: required<number>(null),
    dealFloor: required<number>(null),
    reserveMinutes: required<number>(null),
    learnsLead: field(true),
    minutes: new FormGroup(ofChannels(() => required<number>(null))),
  });

  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('roundSettings'),
    save: (body: RoundSettingsBody, changeId) => this.api.call('changeRoundSettings', { body }, changeId),
    body: ({ version }) => ({ version, ...this.form.getRawValue() }),
    saved: $localize`Saved: the Round reckons with these from now on.`,
  });

  protected controlAt(path: string): FormControl<number> {
    return this.form.get(path) as FormControl<number>;
  }

  protected readonly labelOf = (path: string) =>
    [...lines, ...lengths].find((each) => each.path === path)?.words ?? null;

  protected readonly sayOf = (path: string, value: unknown) => {
    const kind = [...lines, ...lengths].find((each) => each.path === path)?.kind;
    if (typeof value !== 'number' || kind === undefined) return null;
    if (kind === 'percent') return `${Math.round(value * 1000) / 10} %`;
    return kind === 'money' ? sayMoney(value, this.user.currency()) : String(value);
  };
}
