import { CountPipe } from '../../kit/say.pipes';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { CadenceSummary, CallOf, Wording } from '@kettle/contract';
import {
  addNote,
  copyNote,
  daysOfSteps,
  moveNote,
  removeNote,
  type StaveChange,
} from '@kettle/core/cadences';
import { debounceTime } from 'rxjs';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { Conflicts } from '../../kit/conflicts';
import { Submission } from '../../kit/submission';
import { fieldParts } from '../../kit/field';
import { FileField } from '../../kit/file-field';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { Drafts } from '../../services/drafts';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { AskRelease, WordingHistory } from '../wordings/index';
import { PersonPicker } from '../fields/index';
import { CadenceDraft, keepDraft, newCadence } from './cadence-draft';
import { downloadCadence, readCadenceText } from './cadence-file';
import { ResultsPanel } from './results-panel';
import { RunTable } from './run-table';
import { type Place, Stave } from './stave';
import { StepEditor } from './step-editor';

const settleMillis = 250;

/** One cadence: its steps on the stave with real dates for somebody, what it earns, and who is at which step. */
@Component({
  selector: 'kettle-cadence-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CountPipe,
    ChoiceField,
    WhyNot,
    FileField,
    fieldParts,
    MatButtonModule,
    Conflicts,
    Stave,
    StepEditor,
    ResultsPanel,
    RunTable,
    PersonPicker,
    RouterLink,
    MatIcon,
    MatMenuModule,
    WordingHistory,
    Failed,
    Waiting,
  ],
  providers: [CadenceDraft],
  templateUrl: './cadence-page.html',
  styleUrl: './cadence-page.scss',
})
export class CadencePage {
  protected readonly texts = {
    nothingWasChanged: $localize`Nothing was changed.`,
    createCadence: $localize`Create cadence`,
    saveV: (nextNumber: string | number) => $localize`Save v${nextNumber}:nextNumber:`,
    useItAgain: $localize`Use it again`,
    retireItStartsNobody: $localize`Retire it: starts nobody, runs go on`,
    peopleAre: $localize`person is|people are`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly drafts = inject(Drafts);
  private readonly router = inject(Router);
  private readonly releasing = inject(AskRelease);
  protected readonly draft = inject(CadenceDraft);
  protected readonly selected = inject(SelectedRecord);
  protected readonly user = inject(CurrentUser);

  /** Absent for one that is being made. */
  readonly id = input<string>();
  readonly show = input<string>();

  protected readonly list = reading((_: null) => this.api.call('listCadences'));
  protected readonly templates = reading((_: null) => this.api.call('listTemplates'));
  protected readonly results = reading((id: string) => this.api.call('cadenceResults', { params: { id } }));
  protected readonly versions = reading((id: string) => this.api.call('listVersions', { params: { id } }));
  protected readonly example = reading((body: CallOf<'planExample'>['body']) =>
    this.api.call('planExample', { body }),
  );
  private readonly somebody = reading((_: null) => this.api.call('listContacts', { query: { limit: 1 } }));

  protected readonly cadence = computed(
    (): CadenceSummary | null => this.list.value()?.cadences.find((each) => each.id === this.id()) ?? null,
  );
  protected readonly isNew = computed(() => this.id() === undefined);
  protected readonly isMissing = computed(
    () => !this.isNew() && this.list.value() !== null && this.cadence() === null,
  );
  protected readonly nextNumber = computed(() => (this.cadence()?.number ?? 0) + 1);
  /** Runs that are on an earlier version than the current one. */
  protected readonly behind = computed(() =>
    (this.versions.value()?.versions ?? []).filter(
      ({ id, running }) => id !== this.cadence()?.versionId && running > 0,
    ),
  );
  protected readonly runsBehind = computed(() =>
    this.behind().reduce((sum, { running }) => sum + running, 0),
  );
  protected readonly chosen = signal<number>(0);
  protected readonly step = computed(() => this.draft.steps()[this.chosen()] ?? null);
  protected readonly answerSteps = computed((): readonly Option<number | null>[] => [
    { value: null, words: $localize`the cadence ends` },
    ...this.draft.steps().map(({ purpose }, index) => ({
      value: index,
      words: $localize`it goes on at step ${index + 1}:index:: ${purpose}:purpose:`,
    })),
  ]);
  protected readonly picked = signal<string>('');
  protected readonly exampleId = computed(() => this.picked() || (this.somebody.value()?.rows[0]?.id ?? ''));
  protected readonly moments = computed(() => this.example.value()?.moments ?? []);
  protected readonly moment = computed(
    () => this.moments().find(({ step }) => step === this.chosen()) ?? null,
  );
  protected readonly submission = new Submission();
  protected readonly problem = this.submission.problem;
  protected readonly isSaving = signal(false);
  /** What is wrong with the steps as they are: from saving, or before it from the dates for somebody. */
  protected readonly wrong = computed((): ApiProblem | null => {
    const state = this.example.state();
    return this.problem() ?? (state.kind === 'failed' ? state.problem : null);
  });
  protected readonly stale = computed(() => {
    const problem = this.problem();
    return problem?.code === 'stale' ? (problem.current as CadenceSummary) : null;
  });

  protected readonly nameOfText = (id: string) =>
    this.templates.value()?.templates.find((each) => each.id === id)?.name ?? '';

  constructor() {
    this.list.read(null);
    this.templates.read(null);
    this.somebody.read(null);
    let openedId: string | null = null;
    effect(() => {
      const id = this.id() ?? 'new';
      const saved = this.isNew() ? newCadence : this.cadence();
      untracked(() => {
        // News of a change elsewhere must not take away what is being written here.
        if (saved === null || (openedId === id && this.draft.isChanged())) return;
        if (openedId !== id) this.chosen.set(0);
        openedId = id;
        this.problem.set(null);
        this.draft.open(id, saved);
        if (this.id()) {
          this.results.read(id);
          this.versions.read(id);
        }
      });
    });
    toObservable(
      computed(() => ({ definition: this.draft.definition(), contactId: this.exampleId(), startOn: null })),
    )
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe((body) => {
        if (body.contactId) this.example.read(body);
      });
    inject(ChangeStream)
      .of('cadence', 'run', 'template')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.list.again();
        this.templates.again();
        this.versions.again();
        this.results.again();
      });
    inject(Keys).bind(
      { keys: '$mod+z', words: $localize`Undo the last change of the cadence`, act: () => this.draft.undo() },
      { keys: '$mod+s', words: $localize`Save the cadence`, act: () => this.save() },
      { keys: 'a', words: $localize`One more step after the last`, act: () => this.addAfter() },
    );
  }

  protected shown(): 'steps' | 'people' {
    return this.show() === 'people' && !this.isNew() ? 'people' : 'steps';
  }

  protected onStave(change: StaveChange): void {
    this.draft.take(change);
    this.chosen.set(Math.max(0, change.at));
    this.problem.set(null);
  }

  protected move(index: number, to: Place): void {
    this.onStave(moveNote(this.draft.steps(), index, to));
  }

  protected add(to: Place): void {
    const like = this.draft.steps().at(-1) ?? newCadence.definition.steps[0]!;
    this.onStave(addNote(this.draft.steps(), { ...like, purpose: $localize`what for?` }, to));
  }

  protected addAfter(): void {
    const last = this.draft.steps().reduce((day, step) => day + step.offsetDays, 0);
    this.add({ day: last + 2, channel: 'call' });
  }

  protected copyStep(index: number): void {
    this.onStave(copyNote(this.draft.steps(), index));
  }

  protected copyTo(index: number, to: Place): void {
    this.onStave(addNote(this.draft.steps(), this.draft.steps()[index]!, to));
  }

  protected removeStep(index: number): void {
    if (this.draft.steps().length === 1)
      return this.notices.say($localize`A cadence needs at least one step.`);
    this.onStave(removeNote(this.draft.steps(), index));
    this.notices.say($localize`Step ${index + 1} removed.`, () => this.draft.undo());
  }

  protected changeChannel(channel: Place['channel']): void {
    const day = daysOfSteps(this.draft.steps())[this.chosen()] ?? 0;
    this.move(this.chosen(), { day, channel });
  }

  protected changeStep(part: Parameters<CadenceDraft['changeStep']>[1]): void {
    this.problem.set(null);
    this.draft.changeStep(this.chosen(), part);
  }

  protected save(isRetired = this.cadence()?.isRetired ?? false): void {
    if (this.isSaving()) return;
    const body = this.submission.bodyOf({ name: this.draft.name(), definition: this.draft.definition() });
    const id = this.id();
    const saved$ =
      id === undefined
        ? this.api.call('createCadence', { body })
        : this.api.call('saveCadence', {
            params: { id },
            body: { ...body, version: this.draft.basedOn() ?? 0, isRetired },
          });
    if (!this.mayHoldAtOnce())
      return this.askFor(id, { ...body, version: this.draft.basedOn() ?? 0, isRetired });
    const mapping = this.draft.mapping();
    this.isSaving.set(true);
    saved$.subscribe({
      next: (saved) => {
        this.isSaving.set(false);
        this.submission.clear();
        this.draft.drop();
        this.list.put({
          cadences: [...(this.list.value()?.cadences ?? []).filter((each) => each.id !== saved.id), saved],
        });
        this.notices.say($localize`${saved.name}:name: is saved as version ${saved.number}:number:.`);
        if (id === undefined) void this.router.navigate(['/cadences', saved.id], { replaceUrl: true });
        else {
          this.draft.open(id, saved);
          this.versions.read(id);
          // What others changed meanwhile is in it too: which step became which is then not known here.
          const isMine = JSON.stringify(saved.definition) === JSON.stringify(body.definition);
          if (saved.running > 0 && isMine) void this.moveRuns(mapping, saved);
        }
      },
      error: (error: unknown) => {
        this.isSaving.set(false);
        this.submission.refuse(error);
        const path = this.problem()!.fields[0]?.path ?? '';
        const step = /^definition\.steps\.(\d+)/.exec(path);
        if (step) this.chosen.set(Number(step[1]));
      },
    });
  }

  /** What sends by itself, or did, is released by whoever may. */
  protected readonly mayHoldAtOnce = computed(() => {
    const sends = (definition: CadenceSummary['definition'] | undefined) =>
      definition?.steps.some(({ mode }) => mode === 'by-itself') ?? false;
    return this.user.mayRelease() || !(sends(this.draft.definition()) || sends(this.cadence()?.definition));
  });

  private askFor(id: string | undefined, body: NonNullable<CallOf<'saveCadence'>['body']>): void {
    this.isSaving.set(true);
    const asked$ =
      id === undefined
        ? this.releasing.send({ act: 'createCadence', body })
        : this.releasing.send({ act: 'saveCadence', cadenceId: id, body });
    asked$.subscribe({
      next: () => {
        this.isSaving.set(false);
        this.submission.clear();
        this.draft.drop();
        void this.router.navigateByUrl('/cadences');
      },
      error: (error: unknown) => {
        this.isSaving.set(false);
        this.submission.refuse(error);
      },
    });
  }

  /** `definition.steps.2.windowEnd` is “Step 3, window end”. */
  protected readonly conflictLabel = (path: string): string | null => {
    const [, at, field] = /^definition\.steps\.(\d+)\.(\w+)$/.exec(path) ?? [];
    if (at !== undefined && field !== undefined)
      return $localize`Step ${Number(at) + 1}:at:, ${field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)}:field:`;
    return (
      {
        'definition.steps': $localize`The steps`,
        'definition.answeredStep': $localize`Where an answer leads`,
        isRetired: $localize`Whether it is used`,
      }[path] ?? null
    );
  };

  protected takeTheirs(theirs: CadenceSummary): void {
    this.draft.drop();
    this.submission.clear();
    this.draft.open(theirs.id, theirs);
  }

  protected takeEarlier({ asked }: Wording): void {
    this.draft.replace(asked as Pick<CadenceSummary, 'name' | 'definition'>);
  }

  protected retire(): void {
    const isRetired = !this.cadence()?.isRetired;
    this.save(isRetired);
  }

  protected makeCopy(): void {
    keepDraft(this.drafts, 'new', {
      name: $localize`${this.draft.name()}, copy`,
      definition: this.draft.definition(),
    });
    void this.router.navigateByUrl('/cadences/new');
  }

  protected exportFile(): void {
    this.api.call('cadenceToFile', { params: { id: this.id()! } }).subscribe({
      next: downloadCadence,
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async moveRuns(mapping: readonly (number | null)[] | null, to = this.cadence()!): Promise<void> {
    const { MoveRunsDialog } = await import('./move-runs-dialog');
    this.dialog.open(MoveRunsDialog, { data: { to, mapping }, width: '640px', maxWidth: '96vw' });
  }

  protected async readFile(file: File | undefined): Promise<void> {
    if (file === undefined) return;
    readCadenceText(this.api, await file.text()).subscribe({
      next: ({ name, definition, unknownTemplates }) => {
        this.draft.replace({ name, definition });
        this.chosen.set(0);
        if (unknownTemplates.length > 0)
          this.notices.say($localize`Not here, and so left out: ${unknownTemplates.join(', ')}.`);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
