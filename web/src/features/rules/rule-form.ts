import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  type OnInit,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { FilterGroup, Rule, RuleAct, RuleBody, RuleTrial, RuleWhen } from '@kettle/contract';
import { hookEvents, type HookEventName } from '@kettle/contract/hooks/kinds';
import {
  ruleActs,
  ruleDates,
  ruleEvents,
  ruleSubjectLabel,
  ruleSubjects,
  type RuleSubject,
} from '@kettle/contract/rules/kinds';
import { v7 } from 'uuid';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { field, type Option, pageFormParts, RecordForm, required } from '../../kit/form';
import { FilterBuilder } from '../grid/index';
import { ActRow, firstAct } from './act-row';
import { RuleTrialPart } from './rule-trial';
import { RuleWords } from './rule-words';

const noQuestions: FilterGroup = { join: 'all', rules: [] };
/** `event:deal.closed`, `date:close`, `silence`, `stage`. */
type Waiting = string;

const keyOf = (when: RuleWhen): Waiting => {
  if (when.kind === 'event') return `event:${when.event}`;
  return when.kind === 'date' ? `date:${when.date}` : when.kind;
};

/** A house rule written by choosing, read as one sentence, and tried out before it is kept. */
@Component({
  selector: 'kettle-rule-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, ActRow, FilterBuilder, MatButtonModule, MatCheckboxModule, RuleTrialPart],
  template: `
    <kettle-page-form act="Save the rule" i18n-act [form]="form" [named]="nameOf" (save)="save()">
      <div class="form-grid">
        <kettle-text-field
          label="Name of the rule"
          i18n-label
          [formControl]="form.controls.name"
          [most]="120"
        />
        <kettle-choice-field
          label="About"
          i18n-label
          [value]="subject()"
          (valueChange)="about($event!)"
          [options]="subjects"
        />
        <kettle-choice-field
          label="When"
          i18n-label
          [value]="waiting()"
          (valueChange)="wait($event!)"
          [options]="waits()"
        />
        @if (days() !== null) {
          <kettle-number-field
            [label]="waiting().startsWith('date:') ? texts.daysAround : texts.daysLong"
            [min]="waiting().startsWith('date:') ? -365 : 1"
            [max]="waiting().startsWith('date:') ? 365 : 730"
            [value]="days()"
            (valueChange)="putDays($event)"
          />
        }
      </div>
      @if (goals(); as choices) {
        <div class="goals" role="group" [attr.aria-label]="texts.only">
          <span i18n class="soft">Only to (none ticked: to any)</span>
          @for (each of choices; track each.value) {
            <mat-checkbox [checked]="to().has(each.value)" (change)="turn(each.value, $event.checked)">
              {{ each.words }}
            </mat-checkbox>
          }
        </div>
      }
      <h4 i18n>If</h4>
      <kettle-filter-builder [group]="questions()" [columns]="columns()" (changed)="questions.set($event)" />
      <div class="acts">
        @for (each of acts(); track $index; let at = $index) {
          <kettle-act-row
            [act]="each"
            [subject]="subject()"
            [at]="at"
            [canGo]="acts().length > 1"
            (changed)="replace(at, $event)"
            (gone)="remove(at)"
          />
        }
        <button i18n matButton type="button" (click)="add()">and something else</button>
      </div>
      <div class="form-grid">
        <kettle-number-field
          label="On one day at most"
          i18n-label
          [min]="1"
          [max]="5000"
          [formControl]="form.controls.perDay"
        />
        @if (days() !== null) {
          <kettle-choice-field
            label="Days on which nothing ran"
            i18n-label
            [formControl]="form.controls.missed"
            [options]="missed"
          />
        }
      </div>
      <mat-checkbox i18n [checked]="isOn()" (change)="isOn.set($event.checked)">It is on</mat-checkbox>
      <p class="sentence" role="status">{{ words.sentence(draft()) }}</p>
      <ng-container besideActs>
        <button i18n matButton="outlined" type="button" (click)="tryIt()">
          What would it have done in the last 90 days?
        </button>
        <button i18n matButton type="button" (click)="left.emit()">Cancel</button>
      </ng-container>
    </kettle-page-form>
    @if (problem(); as wrong) {
      <p class="wrong" role="alert">{{ wrong.message }}</p>
      @for (each of wrong.fields; track each.path) {
        <p class="wrong">{{ nameOf(each.path) ?? each.path }}: {{ each.message }}</p>
      }
    }
    @if (trial(); as found) {
      <kettle-rule-trial [trial]="found" />
    }
  `,
  styleUrls: ['../settings/settings-part.scss', '../programs/programs.scss', './rules.scss'],
})
export class RuleForm implements OnInit {
  protected readonly texts = {
    daysLong: $localize`For how many days`,
    daysAround: $localize`How many days after it (before: a minus)`,
    only: $localize`Only to`,
  };

  private readonly api = inject(Api);
  protected readonly words = inject(RuleWords);
  /** What it begins with: one that is changed, or one that ships; null is empty. */
  readonly from = input.required<(RuleBody & Partial<Pick<Rule, 'id' | 'version'>>) | null>();
  readonly saved = output<{ rule: Rule; changeId: string }>();
  readonly left = output();

  protected readonly form = new RecordForm({
    name: required(''),
    perDay: required<number>(200),
    missed: field<'catch-up' | 'skip'>('catch-up'),
  });
  protected readonly subject = signal<RuleSubject>('deal');
  private readonly when = signal<RuleWhen>({ kind: 'event', event: 'deal.closed', to: [] });
  protected readonly questions = signal<FilterGroup>(noQuestions);
  protected readonly acts = signal<readonly RuleAct[]>([firstAct]);
  protected readonly isOn = signal(true);
  protected readonly trial = signal<RuleTrial | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);

  protected readonly subjects: Option<RuleSubject>[] = ruleSubjects.map((value) => ({
    value,
    words: ruleSubjectLabel[value],
  }));
  protected readonly missed: Option<'catch-up' | 'skip'>[] = [
    { value: 'catch-up', words: $localize`are made up for` },
    { value: 'skip', words: $localize`are left out` },
  ];
  protected readonly waiting = computed(() => keyOf(this.when()));
  protected readonly waits = computed(() => {
    const subject = this.subject();
    const dates = Object.entries(ruleDates[subject]);
    const by: Option<Waiting>[] = [
      ...dates.map(([name, words]) => ({ value: `date:${name}`, words })),
      ...(subject === 'contact'
        ? [{ value: 'silence', words: $localize`nobody had contact for a while` }]
        : []),
      ...(subject === 'deal' ? [{ value: 'stage', words: $localize`it is in its stage for a while` }] : []),
    ];
    return [
      {
        group: $localize`something happens`,
        options: ruleEvents[subject].map((name) => ({
          value: `event:${name}`,
          words: hookEvents[name].words,
        })),
      },
      ...(by.length > 0 ? [{ group: $localize`days pass`, options: by }] : []),
    ];
  });
  protected readonly days = computed(() => {
    const when = this.when();
    return when.kind === 'event' ? null : when.days;
  });
  protected readonly goals = computed(() => {
    const when = this.when();
    return when.kind === 'event' ? this.words.goals(when.event) : null;
  });
  protected readonly to = computed((): ReadonlySet<string> => {
    const when = this.when();
    return new Set(when.kind === 'event' ? when.to : []);
  });
  protected readonly columns = computed(() => this.words.columns(this.subject()));
  protected readonly draft = computed(() => ({
    subject: this.subject(),
    when: this.when(),
    if: this.questions().rules.length === 0 ? null : this.questions(),
    then: [...this.acts()],
  }));

  constructor() {
    this.words.wake();
    effect(() => {
      const subject = this.subject();
      untracked(() => void this.words.load(subject));
    });
  }

  ngOnInit(): void {
    const from = this.from();
    if (from === null) return;
    this.form.setValue({ name: from.name, perDay: from.perDay, missed: from.missed });
    this.subject.set(from.subject);
    this.when.set(from.when);
    this.questions.set(from.if ?? noQuestions);
    this.acts.set(from.then);
    this.isOn.set(from.isOn);
  }

  /** What is refused of what is no field of the form stands below it. */
  protected readonly nameOf = (path: string): string | null => {
    if (path.startsWith('when')) return $localize`When`;
    if (path.startsWith('if')) return $localize`If`;
    const at = /^then\.(\d+)/.exec(path)?.[1];
    return at === undefined ? null : $localize`Then, ${Number(at) + 1}:at:`;
  };

  /** Another kind of record asks and does other things: what it has none of is begun anew. */
  protected about(subject: RuleSubject): void {
    if (subject === this.subject()) return;
    this.subject.set(subject);
    this.when.set({ kind: 'event', event: ruleEvents[subject][0]!, to: [] });
    this.questions.set(noQuestions);
    const kept = this.acts().filter(({ kind }) => ruleActs[subject].includes(kind));
    this.acts.set(kept.length > 0 ? kept : [firstAct]);
  }

  protected wait(key: Waiting): void {
    const days = Math.abs(this.days() ?? 30) || 30;
    if (key.startsWith('event:'))
      this.when.set({ kind: 'event', event: key.slice('event:'.length) as HookEventName, to: [] });
    else if (key.startsWith('date:')) this.when.set({ kind: 'date', date: key.slice('date:'.length), days });
    else this.when.set({ kind: key as 'silence' | 'stage', days });
  }

  protected putDays(days: number | null): void {
    const when = this.when();
    if (when.kind !== 'event' && days !== null) this.when.set({ ...when, days });
  }

  protected turn(goal: string, isOnly: boolean): void {
    const when = this.when();
    if (when.kind !== 'event') return;
    const rest = when.to.filter((each) => each !== goal);
    this.when.set({ ...when, to: isOnly ? [...rest, goal] : rest });
  }

  protected replace(at: number, act: RuleAct): void {
    this.acts.update((all) => all.map((each, index) => (index === at ? act : each)));
  }

  protected remove(at: number): void {
    this.acts.update((all) => all.filter((_, index) => index !== at));
  }

  protected add(): void {
    this.acts.update((all) => [...all, firstAct]);
  }

  private body(): RuleBody {
    return { ...this.form.getRawValue(), ...this.draft(), isOn: this.isOn() };
  }

  protected tryIt(): void {
    this.problem.set(null);
    this.api
      .call('tryRule', { body: { ...this.body(), name: this.form.controls.name.value || $localize`trial` } })
      .subscribe({
        next: (trial) => this.trial.set(trial),
        error: (error: unknown) => this.problem.set(problemOf(error)),
      });
  }

  protected save(): void {
    const changeId = v7();
    const from = this.from();
    this.problem.set(null);
    this.form.send(
      this.body(),
      (body) =>
        from?.id !== undefined && from.version !== undefined
          ? this.api.call(
              'changeRule',
              { params: { id: from.id }, body: { ...body, version: from.version } },
              changeId,
            )
          : this.api.call('addRule', { body }, changeId),
      (rule) => this.saved.emit({ rule, changeId }),
    );
  }
}
