import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { type FormControl, FormGroup } from '@angular/forms';
import type { LearnedName, RoundSettingsBody } from '@kettle/contract';
import { channelKindOf, channelNames, ofChannels } from '@kettle/contract/base/channels';
import { sayMoney } from '@kettle/core/money';
import { sayCount, writeNumber } from '@kettle/core/locale';
import { fewestCases } from '@kettle/core/round';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { RoundPreviewPart } from './round-preview';

interface Line {
  readonly path: string;
  readonly words: string;
  readonly kind: 'percent' | 'money' | 'decimal' | 'minutes';
  readonly min?: number;
  readonly max?: number;
}

const acts = [
  ['reply', $localize`an answer to somebody who wrote`],
  ['lead', $localize`a new lead`],
  ['task', $localize`a task`],
  ['waking', $localize`a parked deal that wakes`],
  ['stirring', $localize`a sign of life`],
  ['step', $localize`a step of a cadence`],
] as const;

/** What is learned unless somebody sets it. */
const learnable: readonly (Line & { readonly path: LearnedName })[] = [
  ...acts.map(([name, words]) => ({
    path: `p0.${name}` as const,
    words: $localize`Chance, done at once: ${words}`,
    kind: 'percent' as const,
    max: 100,
  })),
  ...acts.flatMap(([name, words]) =>
    name === 'step'
      ? []
      : [
          {
            path: `halfDays.${name}` as const,
            words: $localize`Working days in which it halves: ${words}`,
            kind: 'decimal' as const,
            min: 0.1,
            max: 365,
          },
        ],
  ),
  {
    path: 'silenceLossChance',
    words: $localize`Chance that silence loses a customer in a year`,
    kind: 'percent',
    max: 100,
  },
  {
    path: 'renewalLastDay',
    words: $localize`A renewal, called on its last day, is still saved`,
    kind: 'percent',
    max: 100,
  },
  {
    path: 'renewalHalfDays',
    words: $localize`Days before its deadline in which half of a renewal is decided`,
    kind: 'decimal',
    min: 0.1,
    max: 365,
  },
  {
    path: 'dealFloor',
    words: $localize`A deal left for long keeps of its chance`,
    kind: 'percent',
    max: 100,
  },
  { path: 'leadMinor', words: $localize`A contact without a deal is expected to bring`, kind: 'money' },
  { path: 'promiseMinor', words: $localize`Keeping a promise is worth at least`, kind: 'money' },
];

const reserve: Line = {
  path: 'reserveMinutes',
  words: $localize`Kept free each day for what comes in`,
  kind: 'minutes',
  min: 0,
  max: 480,
};

const lengths: readonly Line[] = channelNames.map((name) => ({
  path: `minutes.${name}`,
  words: channelKindOf(name).label,
  kind: 'minutes',
  min: 1,
  max: 480,
}));

const allLines: readonly Line[] = [...learnable, reserve, ...lengths];

/**
 * What the Round reckons with: chances that acting brings what is at stake and how fast they fall, what things are worth, how long they
 * take. Each can be set, and is learned where it is not; before anything is saved, today's order shows what it would change.
 */
@Component({
  selector: 'kettle-round-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, RoundPreviewPart],
  template: `
    <section aria-labelledby="round">
      <h2 i18n id="round">Round</h2>
      <p i18n class="soft">
        The Round puts first what costs most to leave. What acting brings is a conversation within thirty
        days: the chances say how often. Empty fields count as they were learned from your own journal of two
        years, or as usual until {{ fewest }} cases are known.
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
          @for (line of learnable; track line.path) {
            <kettle-number-field
              [kind]="line.kind"
              [label]="line.kind === 'money' ? line.words + ', ' + user.currency() : line.words"
              [formControl]="controlAt(line.path)"
              [placeholder]="countsOf(line)"
              [hint]="knownOf(line)"
              [min]="line.min ?? null"
              [max]="line.max ?? null"
            />
          }
          <kettle-number-field
            kind="minutes"
            [label]="reserve.words"
            [formControl]="controlAt(reserve.path)"
            [min]="0"
            [max]="480"
          />
        </div>
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
        <kettle-round-preview [settings]="typed" />
      </kettle-page-form>
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class RoundSettingsPart {
  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  protected readonly learnable = learnable;
  protected readonly reserve = reserve;
  protected readonly lengths = lengths;
  protected readonly fewest = fewestCases;
  protected readonly form = new RecordForm({
    p0: new FormGroup({
      reply: field<number | null>(null),
      lead: field<number | null>(null),
      task: field<number | null>(null),
      step: field<number | null>(null),
      waking: field<number | null>(null),
      stirring: field<number | null>(null),
    }),
    halfDays: new FormGroup({
      reply: field<number | null>(null),
      lead: field<number | null>(null),
      task: field<number | null>(null),
      waking: field<number | null>(null),
      stirring: field<number | null>(null),
    }),
    silenceLossChance: field<number | null>(null),
    promiseMinor: field<number | null>(null),
    leadMinor: field<number | null>(null),
    renewalHalfDays: field<number | null>(null),
    renewalLastDay: field<number | null>(null),
    dealFloor: field<number | null>(null),
    reserveMinutes: required<number>(null),
    minutes: new FormGroup(ofChannels(() => required<number>(null))),
  });

  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('roundSettings'),
    save: (body: RoundSettingsBody, changeId) => this.api.call('changeRoundSettings', { body }, changeId),
    body: ({ version }) => ({ version, ...this.form.getRawValue() }),
    saved: $localize`Saved: the Round reckons with these from now on.`,
  });
  private readonly learned = reading((_: null) => this.api.call('learnedValues'));
  private readonly byName = computed(
    () => new Map((this.learned.value()?.values ?? []).map((value) => [value.name, value])),
  );

  constructor() {
    this.learned.read(null);
  }

  /** What an empty field counts as. */
  protected countsOf(line: (typeof learnable)[number]): string {
    const value = this.byName().get(line.path);
    return value === undefined ? '' : this.said(line.kind, value.learned ?? value.usual).replace(/ %$/, '');
  }

  /** How it is usual, and what was learned of it. */
  protected knownOf(line: (typeof learnable)[number]): string {
    const value = this.byName().get(line.path);
    if (value === undefined) return '';
    const usual = $localize`usual ${this.said(line.kind, value.usual)}:usual:`;
    const cases = sayCount(value.cases, $localize`case|cases`);
    return value.learned === null
      ? $localize`${usual}:usual: · ${cases}:cases: so far`
      : $localize`learned ${this.said(line.kind, value.learned)}:learned: from ${cases}:cases: · ${usual}:usual:`;
  }

  /** The settings as they stand in the form; null while something in it is wrong, which is then said. */
  protected readonly typed = (): RoundSettingsBody | null => {
    const stored = this.settings.stored.value();
    if (stored === null || !this.form.isFilledIn()) return null;
    return { version: stored.version, ...this.form.getRawValue() };
  };

  protected controlAt(path: string): FormControl<number> {
    return this.form.get(path) as FormControl<number>;
  }

  protected readonly labelOf = (path: string) => allLines.find((each) => each.path === path)?.words ?? null;

  protected readonly sayOf = (path: string, value: unknown) => {
    const kind = allLines.find((each) => each.path === path)?.kind;
    return typeof value !== 'number' || kind === undefined ? null : this.said(kind, value);
  };

  private said(kind: Line['kind'], value: number): string {
    if (kind === 'percent') return `${writeNumber(Math.round(value * 1000) / 10)} %`;
    return kind === 'money' ? sayMoney(value, this.user.currency()) : writeNumber(value);
  }
}
