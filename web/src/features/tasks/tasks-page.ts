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
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { CallOf, Channel, Task } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { addDays } from '@kettle/core/time';
import type { Observable } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { choiceParts } from '../../kit/choice';
import { Pick } from '../../kit/pick';
import { SelectedRecord } from '../../services/selected-record';
import { ViewsMenu } from '../views/index';

type Shape = 'table' | 'list' | 'columns';
type Query = NonNullable<CallOf<'taskTable'>['query']>;

interface Column {
  readonly name: string;
  readonly tasks: readonly Task[];
}

const finishedShownDays = 14;

/** Tasks as a table, as a list beside the person, or as columns by state; a manager sees the team's. */
@Component({
  selector: 'kettle-tasks-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Pick,
    choiceParts,
    MatButtonModule,
    MatIcon,
    MatMenuModule,
    RouterLink,
    DayPipe,
    MomentPipe,
    Empty,
    Failed,
    Waiting,
    ViewsMenu,
  ],
  templateUrl: './tasks-page.html',
  styleUrl: './tasks-page.scss',
})
export class TasksPage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly as = input<Shape>();
  readonly owner = input<string>();
  readonly state = input<Query['state']>();
  readonly due = input<Query['due']>();
  readonly channel = input<Channel>();
  readonly sort = input<Query['sort']>();
  readonly order = input<'up' | 'down'>();

  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly shapes: readonly { name: Shape; words: string }[] = [
    { name: 'table', words: 'table' },
    { name: 'list', words: 'list' },
    { name: 'columns', words: 'columns' },
  ];
  protected readonly states = ['open', 'done', 'dropped', 'all'] as const;
  protected readonly dues = ['late', 'today', 'ahead'] as const;
  protected readonly heads: readonly { sort: NonNullable<Query['sort']>; name: string }[] = [
    { sort: 'due', name: 'when' },
    { sort: 'purpose', name: 'what for' },
    { sort: 'person', name: 'with' },
    { sort: 'minutes', name: 'min' },
    { sort: 'owner', name: 'who does it' },
  ];
  protected readonly isManager = this.user.isManager;
  private readonly people = reading((_: null) => this.api.call('listColleagues'));
  protected readonly colleagues = computed(() => this.people.value()?.people ?? []);
  protected readonly shape = computed((): Shape => this.as() ?? 'table');
  protected readonly at = signal<string | null>(null);
  protected readonly list = reading((query: Query) => this.api.call('taskTable', { query }));
  protected readonly hasFilter = computed(() =>
    Boolean(this.due() || this.channel() || (this.state() ?? 'open') !== 'open'),
  );
  protected readonly columns = computed((): readonly Column[] => {
    const rows = this.list.value()?.rows ?? [];
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
  protected readonly viewQuery = computed(() => {
    const parts = {
      as: this.as(),
      owner: this.owner(),
      state: this.state(),
      due: this.due(),
      channel: this.channel(),
      sort: this.sort(),
      order: this.order(),
    };
    const query = new URLSearchParams();
    for (const [key, value] of Object.entries(parts)) if (value) query.set(key, value);
    return query.toString();
  });

  constructor() {
    this.people.read(null);
    effect(() => {
      const isColumns = this.shape() === 'columns';
      const query = {
        owner: this.owner() ?? 'mine',
        state: isColumns ? 'all' : (this.state() ?? 'open'),
        due: this.due(),
        channel: this.channel(),
        sort: this.sort(),
        order: this.order(),
        limit: 500,
      } as Query;
      untracked(() => this.list.read(query));
    });
    inject(ChangeStream)
      .of('task', 'journal', 'run', 'bulk')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next task', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Task before', act: () => this.step(-1) },
      { keys: 'Enter', words: 'Log it', act: () => this.onChosen((task) => this.log(task)) },
      { keys: 'd', words: 'Defer', act: () => this.onChosen((task) => void this.defer(task)) },
      { keys: 'e', words: 'Change', act: () => this.onChosen((task) => void this.change(task)) },
      { keys: 'x', words: 'Drop with a reason', act: () => this.onChosen((task) => void this.drop(task)) },
      { keys: '.', words: 'Done', act: () => this.onChosen((task) => this.finish(task)) },
    );
  }

  protected showView(query: string): void {
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: Object.fromEntries(new URLSearchParams(query)),
    });
  }

  protected sortBy(sort: NonNullable<Query['sort']>): void {
    const isSame = (this.sort() ?? 'due') === sort;
    const order = isSame && (this.order() ?? 'up') === 'up' ? 'down' : null;
    this.selected.setQuery({ sort: sort === 'due' ? null : sort, order });
  }

  protected ariaSort(sort: string): 'ascending' | 'descending' | 'none' {
    if ((this.sort() ?? 'due') !== sort) return 'none';
    return (this.order() ?? 'up') === 'up' ? 'ascending' : 'descending';
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
      next: () => this.list.again(),
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
      .subscribe(() => this.list.again());
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
        this.list.again();
        this.undo.offer(`${words}: ${task.purpose}.`, changeId, () => this.list.again());
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.list.again();
      },
    });
  }

  private onChosen(act: (task: Task) => void): void {
    const task = this.list.value()?.rows.find((each) => each.id === this.at());
    if (task?.state !== 'open') return;
    if (this.user.mayChange(task.ownerId)) act(task);
    else this.notices.say(`This task is ${task.ownerName}’s, who can change it.`);
  }

  private step(by: number): void {
    const rows = this.list.value()?.rows ?? [];
    const at = rows.findIndex((row) => row.id === this.at());
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) this.choose(next);
  }
}
