import { tableParts } from '../../kit/table';
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
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { CallOf, RunChange, RunRow } from '@kettle/contract';
import { Api } from '../../api/api';
import { v7 } from 'uuid';
import { reading } from '../../api/reading';
import { ChoiceField, labelled } from '../../kit/choice-field';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { WordPipe } from '../../kit/value-words';

type Query = NonNullable<CallOf<'runTable'>['query']>;

const statuses = ['active', 'running', 'paused', 'ended', 'all'] as const;
const acts: readonly { readonly change: RunChange; readonly words: string; readonly done: string }[] = [
  { change: 'pause', words: $localize`Pause`, done: $localize`paused` },
  { change: 'resume', words: $localize`Go on`, done: $localize`going on` },
  { change: 'skip', words: $localize`Skip this step`, done: $localize`on their next step` },
  { change: 'stop', words: $localize`Stop`, done: $localize`stopped` },
];
const mostAtOnce = 200;

/** Who is at which step of a cadence, their next moment and last sign of life; several can be held, skipped or stopped. */
@Component({
  selector: 'kettle-run-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    tableParts,
    ChoiceField,
    MatCheckboxModule,
    MatButtonModule,
    MatIcon,
    RouterLink,
    DayPipe,
    Empty,
    Failed,
    Waiting,
  ],
  templateUrl: './run-table.html',
  styleUrl: './run-table.scss',
})
export class RunTable {
  protected readonly texts = {
    stepPeople: (index: string | number, count: string | number) =>
      $localize`Step ${index}:index:, ${count}:count: people`,
    choose: (contactName: string | number) => $localize`Choose ${contactName}:contactName:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  readonly cadenceId = input.required<string>();

  protected readonly statuses = statuses.map((value) => ({
    value,
    words: value === 'active' ? $localize`not ended` : value,
  }));
  protected readonly owners = labelled({ mine: $localize`mine`, all: $localize`everyone’s` });
  protected readonly acts = acts;
  protected readonly step = signal<number | null>(null);
  protected readonly status = signal<(typeof statuses)[number]>('active');
  protected readonly owner = signal<'mine' | 'all'>('mine');
  protected readonly marked = signal<ReadonlySet<string>>(new Set());
  protected readonly refused = signal<readonly { name: string; words: string }[]>([]);
  protected readonly isBusy = signal(false);
  protected readonly page = reading(({ id, query }: { id: string; query: Query }) =>
    this.api.call('runTable', { params: { id }, query }),
  );
  protected readonly rows = computed(() => this.page.value()?.rows ?? []);
  protected readonly chosen = computed(() => this.rows().filter(({ id }) => this.marked().has(id)));
  protected readonly isAllMarked = computed(
    () => this.rows().length > 0 && this.chosen().length === this.rows().length,
  );

  constructor() {
    effect(() => {
      const query: Query = { step: this.step() ?? undefined, status: this.status(), owner: this.owner() };
      const id = this.cadenceId();
      untracked(() => this.page.read({ id, query }));
    });
    inject(ChangeStream)
      .of('run', 'stirring')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.page.again());
  }

  protected showAll(): void {
    this.step.set(null);
    this.status.set('all');
    this.owner.set('all');
  }

  protected readonly idOf = (row: RunRow): string => row.id;
  protected readonly isMarked = (row: RunRow): boolean => this.marked().has(row.id);

  protected mark(id: string): void {
    this.marked.update((all) => {
      const next = new Set(all);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected markAll(): void {
    this.marked.set(this.isAllMarked() ? new Set() : new Set(this.rows().map(({ id }) => id)));
  }

  protected act({ change, done }: (typeof acts)[number], rows: readonly RunRow[] = this.chosen()): void {
    const runs = rows.slice(0, mostAtOnce).map(({ id, version }) => ({ id, version }));
    this.isBusy.set(true);
    const changeId = v7();
    this.api.call('changeRuns', { body: { runs, change } }, changeId).subscribe({
      next: ({ changed, refused }) => {
        this.isBusy.set(false);
        this.refused.set(refused);
        this.marked.set(new Set(refused.map(({ id }) => id)));
        this.page.again();
        const words = `${changed} ${done}.${refused.length > 0 ? $localize` ${refused.length} were not.` : ''}`;
        if (changed === 0) this.notices.say(words);
        else this.undo.offer(words, changeId, () => this.page.again());
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.notices.problem(error);
      },
    });
  }
}
