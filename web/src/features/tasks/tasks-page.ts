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
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { RouterLink } from '@angular/router';
import type { CallOf, Channel, Task } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { addDays } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, labelled, named } from '../../kit/choice-field';
import { Pick } from '../../kit/pick';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { TaskActs } from './task-acts';
import { TasksGrid } from './tasks-grid';
import { WordPipe } from '../../kit/value-words';

type Query = NonNullable<CallOf<'taskTable'>['query']>;

interface Column {
  readonly name: string;
  readonly tasks: readonly Task[];
}

const finishedShownDays = 14;

/** Tasks as a list, or as columns by state; a manager sees the team's. */
@Component({
  selector: 'kettle-tasks-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    WordPipe,
    ChoiceField,
    Pick,
    gridParts,
    MatButtonModule,
    MatIcon,
    MatMenuModule,
    RouterLink,
    DayPipe,
    MomentPipe,
    Empty,
    Waiting,
  ],
  providers: [provideGrid(TasksGrid)],
  templateUrl: './tasks-page.html',
  styleUrl: './tasks-page.scss',
})
export class TasksPage {
  protected readonly texts = {
    byState: $localize`by state`,
    moreAbout: (purpose: string | number) => $localize`More about ${purpose}:purpose:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly acts = inject(TaskActs);
  private readonly words = inject(PeopleWords);
  protected readonly store = inject<GridStore<Task>>(GridStore);
  protected readonly view = inject<GridView<Task>>(GridView);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly as = input<string>();
  readonly owner = input<string>();
  readonly state = input<Query['state']>();
  readonly due = input<Query['due']>();
  readonly channel = input<Channel>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();

  protected readonly labels = channelLabel;
  protected readonly channels = [
    { value: '', words: $localize`all channels` },
    ...labelled<string>(channelLabel),
  ];
  protected readonly shapes = ['list', 'columns'] as const;
  protected readonly states = ['open', 'done', 'dropped', 'all'] as const;
  protected readonly dues = ['late', 'today', 'ahead'] as const;
  protected readonly isManager = this.user.isManager;
  protected readonly owners = computed(() => [
    { value: 'mine', words: $localize`mine` },
    { value: 'given', words: $localize`given to others` },
    ...(this.isManager()
      ? [{ value: 'team', words: $localize`the team’s` }, ...named<string>(this.words.colleagues())]
      : []),
  ]);
  protected readonly isColumns = computed(() => this.as() === 'columns');
  protected readonly at = signal<string | null>(null);
  /** As columns by state, all of them are read: open ones, and what was finished lately. */
  protected readonly columnsRead = reading((query: Query) => this.api.call('taskTable', { query }));
  protected readonly rows = computed(() =>
    this.isColumns() ? (this.columnsRead.value()?.rows ?? []) : this.store.known(),
  );
  protected readonly columns = computed((): readonly Column[] => {
    const rows = this.rows();
    const today = this.user.today();
    const since = addDays(today, -finishedShownDays);
    const open = rows.filter((task) => task.state === 'open');
    const recent = (task: Task) => (task.finishedAt ?? '').slice(0, 10) >= since;
    return [
      { name: 'late', tasks: open.filter((task) => task.dueOn < today) },
      { name: 'today', tasks: open.filter((task) => task.dueOn === today) },
      { name: 'ahead', tasks: open.filter((task) => task.dueOn > today) },
      { name: 'done', tasks: rows.filter((task) => task.state === 'done' && recent(task)) },
      { name: 'dropped', tasks: rows.filter((task) => task.state === 'dropped' && recent(task)) },
    ];
  });

  constructor() {
    this.words.wake();
    this.view.follow(
      computed(() => ({
        as: this.as(),
        owner: this.owner(),
        state: this.state(),
        due: this.due(),
        channel: this.channel(),
        q: this.q(),
        filter: this.filter(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
      })),
    );
    effect(() => {
      const { group: _, due: __, ...query } = this.view.query();
      if (!this.isColumns()) return;
      const asked = { ...query, state: 'all', limit: 500 } as unknown as Query;
      untracked(() => this.columnsRead.read(asked));
    });
    inject(ChangeStream)
      .of('task', 'journal', 'run', 'bulk')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        if (this.isColumns()) this.columnsRead.again();
      });
    inject(Keys).bind(
      {
        keys: 'Enter',
        words: $localize`Log it`,
        act: () => this.onChosen((task) => this.acts.log(task, this.again)),
      },
      {
        keys: 'd',
        words: $localize`Defer`,
        act: () => this.onChosen((task) => void this.acts.defer(task, this.again)),
        applies: () => this.at() !== null,
      },
      {
        keys: 'x',
        words: $localize`Drop with a reason`,
        act: () => this.onChosen((task) => void this.acts.drop(task, this.again)),
      },
      {
        keys: '.',
        words: $localize`Done`,
        act: () => this.onChosen((task) => void this.acts.finish(task, this.again)),
      },
    );
  }

  protected choose(task: Task): void {
    this.at.set(task.id);
    if (task.contactId) this.selected.open({ kind: 'contact', id: task.contactId });
    else if (task.dealId) this.selected.open({ kind: 'deal', id: task.dealId });
  }

  protected readonly again = (): void => {
    this.store.again();
    this.columnsRead.again();
  };

  private onChosen(act: (task: Task) => void): void {
    const task = this.rows().find((each) => each.id === this.at());
    if (task?.state !== 'open') return;
    if (this.user.mayChange(task.ownerId)) act(task);
    else this.notices.say($localize`This task is ${task.ownerName}’s, who can change it.`);
  }
}
