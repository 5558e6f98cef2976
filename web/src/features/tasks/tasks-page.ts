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
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { CallOf, Channel, Task } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { addDays } from '@kettle/core/time';
import type { Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { choiceParts } from '../../kit/choice';
import { Pick } from '../../kit/pick';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { TasksGrid } from './tasks-grid';

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
    Pick,
    choiceParts,
    gridParts,
    MatButtonModule,
    MatIcon,
    MatMenuModule,
    RouterLink,
    DayPipe,
    MomentPipe,
    Empty,
    Failed,
    Waiting,
  ],
  providers: [provideGrid(TasksGrid)],
  templateUrl: './tasks-page.html',
  styleUrl: './tasks-page.scss',
})
export class TasksPage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
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
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly shapes = ['list', 'columns'] as const;
  protected readonly states = ['open', 'done', 'dropped', 'all'] as const;
  protected readonly dues = ['late', 'today', 'ahead'] as const;
  protected readonly isManager = this.user.isManager;
  protected readonly colleagues = this.words.colleagues;
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
      { keys: 'Enter', words: 'Log it', act: () => this.onChosen((task) => this.log(task)) },
      { keys: 'd', words: 'Defer', act: () => this.onChosen((task) => void this.defer(task)) },
      { keys: 'x', words: 'Drop with a reason', act: () => this.onChosen((task) => void this.drop(task)) },
      { keys: '.', words: 'Done', act: () => this.onChosen((task) => this.finish(task)) },
    );
  }

  protected choose(task: Task): void {
    this.at.set(task.id);
    if (task.contactId) this.selected.open({ kind: 'contact', id: task.contactId });
    else if (task.dealId) this.selected.open({ kind: 'deal', id: task.dealId });
  }

  /** Logs the task as done by its channel, with its outcome and next step. */
  protected log(task: Task): void {
    if (task.contactId)
      void this.router.navigate(['/walk'], {
        queryParams: { contact: task.contactId, by: task.channel, task: task.id },
      });
    else this.finish(task);
  }

  protected finish(task: Task): void {
    const changeId = v7();
    const call = { params: { id: task.id } };
    this.act(this.api.call('finishTask', call, changeId), 'Done', changeId);
  }

  protected reopen(task: Task): void {
    this.api.call('reopenTask', { params: { id: task.id } }).subscribe({
      next: () => this.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async change(task: Task): Promise<void> {
    const { TaskDialog } = await import('../dossier/task-dialog');
    const data = {
      contactId: task.contactId,
      dealId: task.dealId,
      name: task.contactName ?? undefined,
      task,
    };
    this.dialog
      .open(TaskDialog, { data, width: '460px' })
      .afterClosed()
      .subscribe(() => this.again());
  }

  protected async defer(task: Task): Promise<void> {
    const { TaskReasonDialog } = await import('./task-reason-dialog');
    this.dialog
      .open(TaskReasonDialog, { data: { ask: 'day', name: task.purpose, dueOn: task.dueOn }, width: '360px' })
      .afterClosed()
      .subscribe((dueOn: string | undefined) => {
        if (!dueOn) return;
        const changeId = v7();
        const call = { params: { id: task.id }, body: { version: task.version, dueOn } };
        this.act(this.api.call('deferTask', call, changeId), 'Moved', changeId);
      });
  }

  protected async drop(task: Task): Promise<void> {
    const { TaskReasonDialog } = await import('./task-reason-dialog');
    this.dialog
      .open(TaskReasonDialog, {
        data: { ask: 'reason', name: task.purpose, repeats: task.repeats },
        width: '360px',
      })
      .afterClosed()
      .subscribe((reason: string | undefined) => {
        if (!reason) return;
        const changeId = v7();
        const call = { params: { id: task.id }, body: { reason } };
        this.act(this.api.call('dropTask', call, changeId), 'Dropped', changeId);
      });
  }

  private act(asked: Observable<Task>, words: string, changeId: string): void {
    asked.subscribe({
      next: (task) => {
        this.again();
        this.undo.offer(`${words}: ${task.purpose}.`, changeId, () => this.again());
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.again();
      },
    });
  }

  private again(): void {
    this.store.again();
    this.columnsRead.again();
  }

  private onChosen(act: (task: Task) => void): void {
    const task = this.rows().find((each) => each.id === this.at());
    if (task?.state !== 'open') return;
    if (this.user.mayChange(task.ownerId)) act(task);
    else this.notices.say(`This task is ${task.ownerName}’s, who can change it.`);
  }
}
