import { tableParts } from '../../kit/table';
import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CallOf, DealFact, Pipeline, PipelineCheck, StageBrief } from '@kettle/contract';
import { channelLabel, dealFactLabel } from '@kettle/contract/labels';
import { stageLike } from '@kettle/core/deals';
import { tap } from 'rxjs';
import { v7 } from 'uuid';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts } from '../../kit/conflicts';
import { byPaths, conflictBy, Submission } from '../../kit/submission';
import { labelled, named, type Option, pageFormParts } from '../../kit/form';
import { CountPipe, MoneyPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { moved, OrderHandle } from '../../kit/order-handle';
import { WhyNot } from '../../kit/why-not';
import { Undo } from '../../services/undo';
import { PipelineFlow } from './pipeline-flow';
import { DealWords } from '../deals/index';

type Typed<Part> = { -readonly [Key in keyof Part]: Part[Key] extends number ? number | null : Part[Key] };
type TypedTask = Typed<StageBrief['tasks'][number]>;

interface TypedStage {
  id: string | null;
  name: string;
  /** From 0 to 1; null while it cannot be read. */
  chance: number | null;
  patienceDays: number | null;
  needs: DealFact[];
  brief: { prompts: { id: string; text: string; isRequired: boolean }[]; tasks: TypedTask[] };
  isOpen: boolean;
}

const newStage = (): TypedStage => ({
  id: null,
  name: '',
  chance: 0.5,
  patienceDays: 14,
  needs: [],
  brief: { prompts: [], tasks: [] },
  isOpen: true,
});

const partWords: Readonly<Record<string, string>> = {
  name: $localize`the name`,
  winProbability: $localize`the chance`,
  patienceDays: $localize`the patience`,
};

/** `brief.prompts.1.text` is "prompt 2". */
function partOf(path: string): string {
  const [part = '', kind, at] = path.split('.');
  if (part === 'brief') return `${kind === 'prompts' ? 'prompt' : 'task'} ${Number(at) + 1}`;
  return partWords[part] ?? part;
}

/** A pipeline by the paths of its fields. */
const byStage = ({ name, stages = [] }: Partial<Pipeline>): object => ({
  name,
  ...byPaths('stages', stages),
});

/** Pipelines and their stages: order, chances, patience, what a stage asks for, its brief; checked before they are saved. */
@Component({
  selector: 'kettle-pipeline-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    tableParts,
    CountPipe,
    WhyNot,
    CdkDrag,
    CdkDropList,
    OrderHandle,
    PipelineFlow,
    pageFormParts,
    MatCheckboxModule,
    MatButtonModule,
    Conflicts,
    MoneyPipe,
    Failed,
    Waiting,
  ],
  templateUrl: './pipeline-settings.html',
  styleUrl: './settings-part.scss',
  styles: `
    :host {
      max-inline-size: 900px;
    }
    .stage {
      inline-size: 100%;
      padding-block: 6px;
      border-block-end: 1px solid var(--hairline);
    }
    .line {
      display: grid;
      grid-template-columns: auto minmax(120px, 1fr) 88px 96px 128px auto auto;
      align-items: end;
      gap: var(--space-2);
    }
    .inner {
      display: grid;
      gap: var(--space-2);
      padding: var(--space-2) 0 var(--space-3) 64px;
    }
    .needs {
      display: flex;
      flex-wrap: wrap;
      gap: 4px var(--space-3);
    }
    .task {
      display: grid;
      grid-template-columns: 100px 1fr 88px 80px auto;
      align-items: end;
      gap: var(--space-2);
    }
    .prompt {
      display: grid;
      grid-template-columns: 1fr auto auto;
      align-items: center;
      gap: var(--space-2);
    }
    .check {
      inline-size: 100%;
    }
    .check td,
    .check th {
      padding: 3px 8px 3px 0;
      border-block-end: 1px solid var(--hairline);
      text-align: start;
    }
  `,
})
export class PipelineSettings {
  protected readonly texts = {
    wentOnAreStill: (wentOn: string | number, stillThere: string | number, what: string | number) =>
      $localize`${wentOn}:wentOn: went on, ${stillThere}:stillThere: are still there. A plain mean of those that went on says ${what}:what: days, which is too short: the slow ones are missing from it.`,
    days: $localize`day|days`,
    oneStageHasTo: $localize`One stage has to stay.`,
    prompt: (n: string | number) => $localize`Prompt ${n}:n:`,
    dealsInGoTo: (name: string | number) => $localize`Deals in “${name}:name:” go to`,
    createPipeline: $localize`Create pipeline`,
    previewChanges: $localize`Preview changes`,
    saveChanges: $localize`Save changes`,
    fromTo: (name: string | number) => $localize`From ${name}:name: to`,
  };

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly undo = inject(Undo);
  protected readonly words = inject(DealWords);
  protected readonly channels = labelled(channelLabel);
  protected readonly loaded = reading((_: null) => this.api.call('listPipelines'));
  protected readonly patience = reading((_: null) => this.api.call('listPatience'));
  protected readonly chosen = signal<string | null>(null);
  protected readonly current = computed((): Pipeline | null => {
    const all = this.loaded.value()?.pipelines ?? [];
    return all.find(({ id }) => id === this.chosen()) ?? (this.chosen() === 'new' ? null : (all[0] ?? null));
  });
  protected readonly stages = signal<TypedStage[]>([]);
  protected readonly name = signal('');
  protected readonly gone = signal<{ id: string; name: string; home: string }[]>([]);
  /** The pipeline its deals may move to. */
  protected readonly target = signal('');
  protected readonly map = signal<
    { from: string; name: string; to: string; among: readonly Option<string>[] }[]
  >([]);
  protected readonly targets = computed((): readonly Option<string>[] => [
    { value: '', words: $localize`choose …` },
    ...named<string>((this.loaded.value()?.pipelines ?? []).filter(({ id }) => id !== this.current()?.id)),
  ]);
  protected readonly check = signal<PipelineCheck | null>(null);
  protected readonly saving = new Submission();
  protected readonly problem = this.saving.problem;
  protected readonly facts = computed((): { key: DealFact; words: string }[] => [
    ...Object.entries(dealFactLabel).map(([key, words]) => ({ key: key as DealFact, words })),
    ...this.words.fields().map(({ id, name }) => ({ key: `custom:${id}` as DealFact, words: name })),
  ]);
  /** Stages that deals of one that goes can move to: those that stay, and those of other pipelines. */
  protected readonly homes = computed(() =>
    named<string>([
      ...this.stages().flatMap(({ id, name }) => (id === null ? [] : [{ id, name }])),
      ...(this.loaded.value()?.pipelines ?? [])
        .filter(({ id }) => id !== this.current()?.id)
        .flatMap((pipeline) =>
          pipeline.stages.map(({ id, name }) => ({ id, name: `${pipeline.name}: ${name}` })),
        ),
    ]),
  );

  constructor() {
    this.words.wake();
    this.loaded.read(null);
    this.patience.read(null);
    effect(() => {
      const pipeline = this.current();
      untracked(() => this.fill(pipeline));
    });
  }

  private version = 1;

  /** What is wrong with a stage, each in words. */
  protected wrongIn(at: number): string[] {
    const start = `stages.${at}.`;
    const fields = this.problem()?.fields.filter(({ path }) => path.startsWith(start)) ?? [];
    return fields.map(({ path, message }) => `${partOf(path.slice(start.length))} ${message}`);
  }

  /** A field that others changed too, with the stage it is of: `Survey: chance`. */
  protected readonly labelOf = (path: string): string | null => {
    const [at, id, field] = path.split('.');
    if (at === 'order') return $localize`Order of the stages`;
    if (at !== 'stages' || id === undefined) return null;
    const name = this.stageName(id);
    return field === undefined ? $localize`Stage ${name}` : `${name}: ${partOf(field)}`;
  };
  /** Its value on either side: a stage is there or not, the order in names, a chance in percent. */
  protected readonly sayValue = (path: string, value: unknown): string | null => {
    const [at, , field] = path.split('.');
    if (at === 'order') return (value as readonly string[]).map((id) => this.stageName(id)).join(', ');
    if (at === 'stages' && field === undefined)
      return value === undefined ? 'deleted' : $localize`kept as typed`;
    if (field === 'winProbability') return `${Math.round(Number(value) * 100)} %`;
    return field === 'brief' || field === 'needs' ? $localize`as typed` : null;
  };
  /** Both sides by the paths that conflicts are told at. */
  protected readonly conflict = computed(() => conflictBy<Pipeline>(this.problem(), byStage));
  protected readonly sent = computed(() => byStage(this.saving.sent() as Partial<Pipeline>));

  private stageName(id: string): string {
    const all = [
      ...this.stages(),
      ...this.gone(),
      ...((this.problem()?.current as Pipeline | undefined)?.stages ?? []),
    ];
    return all.find((stage) => stage.id === id)?.name ?? $localize`a new stage`;
  }

  private fill(pipeline: Pipeline | null): void {
    this.gone.set([]);
    this.check.set(null);
    this.map.set([]);
    this.target.set('');
    this.saving.clear();
    this.version = pipeline?.version ?? 1;
    this.name.set(pipeline?.name ?? '');
    this.stages.set(
      pipeline === null
        ? [newStage()]
        : pipeline.stages.map(({ id, name, winProbability, patienceDays, needs, brief }) => ({
            id,
            name,
            chance: winProbability,
            patienceDays,
            needs: [...needs],
            brief: structuredClone(brief),
            isOpen: false,
          })),
    );
  }

  protected suggested(id: string | null) {
    return this.patience.value()?.stages.find(({ stageId }) => stageId === id) ?? null;
  }

  protected change(): void {
    this.stages.update((stages) => [...stages]);
    this.check.set(null);
  }

  protected move(from: number, to: number): void {
    this.stages.update((stages) => moved(stages, from, to));
    this.check.set(null);
  }

  /** Whether the chance falls from one stage to the next. */
  protected fallsAt(at: number): boolean {
    const [before, here] = [this.stages()[at - 1]?.chance, this.stages()[at]?.chance];
    return typeof before === 'number' && typeof here === 'number' && here < before;
  }

  protected add(): void {
    this.stages.update((stages) => [...stages, newStage()]);
    this.check.set(null);
  }

  protected remove(at: number): void {
    const stage = this.stages()[at]!;
    this.stages.update((stages) => stages.filter((_, index) => index !== at));
    const { id, name } = stage;
    if (id !== null) {
      const compared = ({ id, name, chance }: TypedStage) => ({
        id: id ?? '',
        name,
        winProbability: chance ?? 0,
      });
      const stay = this.stages()
        .filter((each) => each.id !== null)
        .map(compared);
      const home = stageLike(compared(stage), stay)?.id ?? '';
      this.gone.update((all) => [...all, { id, name, home }]);
    }
    this.check.set(null);
  }

  protected turnNeed(stage: TypedStage, fact: DealFact): void {
    stage.needs = stage.needs.includes(fact)
      ? stage.needs.filter((each) => each !== fact)
      : [...stage.needs, fact];
    this.change();
  }

  protected addPrompt(stage: TypedStage): void {
    stage.brief.prompts = [...stage.brief.prompts, { id: v7(), text: '', isRequired: true }];
    this.change();
  }

  protected addTask(stage: TypedStage): void {
    const task = {
      id: v7(),
      channel: 'call' as const,
      purpose: '',
      afterDays: 1,
      minutes: this.user.minutes().call,
    };
    stage.brief.tasks = [...stage.brief.tasks, task];
    this.change();
  }

  protected dropPrompt(stage: TypedStage, id: string): void {
    stage.brief.prompts = stage.brief.prompts.filter((prompt) => prompt.id !== id);
    this.change();
  }

  protected dropTask(stage: TypedStage, id: string): void {
    stage.brief.tasks = stage.brief.tasks.filter((task) => task.id !== id);
    this.change();
  }

  private bodyOf() {
    return {
      name: this.name(),
      stages: this.stages().map(({ id, name, chance, patienceDays, needs, brief }) => ({
        id,
        name,
        winProbability: chance,
        patienceDays,
        needs,
        brief,
      })),
      homes: this.gone().map(({ id, home }) => ({ from: id, to: home })),
    };
  }

  /** First what it would do to the deals; saving it is a second press. */
  protected save(): void {
    const pipeline = this.current();
    if (pipeline === null) return this.create();
    const params = { id: pipeline.id };
    const typed = { ...this.bodyOf(), version: this.version };
    type Body = CallOf<'savePipeline'>['body'];
    if (this.check() === null) {
      const body = this.saving.bodyOf(typed) as unknown as Body;
      return void this.api.call('checkPipeline', { params, body }).subscribe({
        next: (check) => {
          // What was chosen over a conflict is sent again with the save.
          if (this.problem()?.code !== 'stale') this.saving.clear();
          this.check.set(check);
        },
        error: this.saving.refuse,
      });
    }
    const changeId = v7();
    this.saving.send(
      typed,
      (body) =>
        this.api
          .call('savePipeline', { params, body: body as unknown as Body }, changeId)
          .pipe(tap({ error: () => this.check.set(null) })),
      () => this.done($localize`${this.name()} is saved.`, changeId),
    );
  }

  private create(): void {
    const body = this.bodyOf() as unknown as CallOf<'createPipeline'>['body'];
    const changeId = v7();
    this.api.call('createPipeline', { body }, changeId).subscribe({
      next: ({ id, name }) => {
        this.chosen.set(id);
        this.done($localize`${name} is added.`, changeId);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected removePipeline({ id, version, name }: Pipeline): void {
    const changeId = v7();
    this.api.call('removePipeline', { params: { id }, body: { version } }, changeId).subscribe({
      next: () => {
        this.chosen.set(null);
        this.done($localize`${name} is deleted; its closed deals still name it.`, changeId);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  /** For each stage here the one of the other pipeline that is most like it. */
  protected proposeMap(pipelineId: string): void {
    this.target.set(pipelineId);
    const among = this.loaded.value()?.pipelines.find(({ id }) => id === pipelineId)?.stages ?? [];
    const stages = among.length === 0 ? [] : (this.current()?.stages ?? []);
    this.map.set(
      stages.map((stage) => ({
        from: stage.id,
        name: stage.name,
        to: stageLike(stage, among)!.id,
        among: named<string>(among),
      })),
    );
  }

  protected mapTo(from: string, to: string): void {
    this.map.update((all) => all.map((each) => (each.from === from ? { ...each, to } : each)));
  }

  protected saveMap(): void {
    const { id } = this.current()!;
    const body = {
      stages: this.map().map(({ from, to }) => ({ from, to })),
    } as CallOf<'mapPipeline'>['body'];
    const changeId = v7();
    this.api.call('mapPipeline', { params: { id }, body }, changeId).subscribe({
      next: ({ moved }) => {
        this.map.set([]);
        this.target.set('');
        this.done($localize`${moved} deals were moved.`, changeId);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  private done(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.again());
    this.again();
  }

  private again(): void {
    this.loaded.again();
    this.patience.again();
  }
}
