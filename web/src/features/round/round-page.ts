import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  Injector,
  input,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { CandidateKind, Channel, RoundRow, UserId, WalkStop } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { addDays, sayMonth, startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import { firstValueFrom } from 'rxjs';
import { Api } from '../../api/api';
import { ExplainedWord } from '../../kit/own-word';
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Seen } from '../../kit/seen';
import { Empty, Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { LateDialog } from '../../kit/late-dialog';
import { Keys } from '../../services/keys';
import { DraggedRow } from '../../services/dragged-row';
import { Notices } from '../../services/notices';
import { WalkLists } from '../../services/walk-lists';
import { SelectedRecord } from '../../services/selected-record';
import { SetupSteps } from '../setup/index';
import { RoundRowPart } from './round-row';
import { TeamDay } from './team-day';
import type { MoveAsked, MovedRow } from './move-dialog';
import { type RoundFilter, RoundStore } from './round.store';
import { sourceWords } from './source-words';

const noKeys: ReadonlySet<string> = new Set();

/** Today's queue in its computed order, with the line where the day's free minutes end. */
@Component({
  selector: 'kettle-round-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ExplainedWord,
    MatButtonModule,
    NgTemplateOutlet,
    RoundRowPart,
    Empty,
    Failed,
    Waiting,
    CountPipe,
    DayPipe,
    MoneyPipe,
    RouterLink,
    Seen,
    SetupSteps,
    TeamDay,
  ],
  templateUrl: './round-page.html',
  styleUrl: './round-page.scss',
})
export class RoundPage {
  private readonly router = inject(Router);
  private readonly dialogs = inject(LateDialog);
  private readonly selected = inject(SelectedRecord);
  private readonly injector = inject(Injector);
  private readonly notices = inject(Notices);
  private readonly lists = inject(WalkLists);
  private readonly dragged = inject(DraggedRow);
  protected readonly api = inject(Api);
  protected readonly store = inject(RoundStore);
  protected readonly user = inject(CurrentUser);

  /** Filters from the address. */
  readonly channel = input<Channel>();
  readonly due = input<'late' | 'today' | 'tomorrow'>();
  readonly kind = input<CandidateKind>();
  /** Whose Round, where it is not one's own: that of somebody one leads, or stands in for. */
  readonly owner = input<UserId>();

  protected readonly texts = {
    roundOf: (name: string) => $localize`${name}:name:’s Round`,
    changes: $localize`change waits|changes wait`,
  };
  protected readonly labels = channelLabel;
  protected readonly sourceWords = sourceWords;
  /** Whether the filters by source are shown; one that is on shows them. */
  protected readonly isBySource = linkedSignal(() => this.kind() !== undefined);
  protected readonly isOther = computed(() => this.owner() !== undefined);
  /** Of the colleague whose Round it is. */
  protected readonly ownerName = computed(() => this.round()?.ownerName ?? '');
  protected readonly isTomorrow = computed(() => this.due() === 'tomorrow');
  /** Of another day, or of a colleague: its order is not made here. */
  protected readonly isFixedOrder = computed(() => this.isTomorrow() || this.isOther());
  protected readonly sources = computed(
    () => Object.entries(this.round()?.counts.kinds ?? {}) as [CandidateKind, number][],
  );
  /** Of the quota, which is for a month. */
  protected readonly monthName = computed(() => sayMonth(this.user.today()));
  protected readonly round = this.store.round;
  /** Meetings held since the beginning of each, whose list a press opens. */
  protected readonly held = computed(() => {
    const { week = 0, month = 0, quarter = 0 } = this.round()?.header.meetingsHeld ?? {};
    const today = this.user.today();
    return [
      { words: $localize`this week`, count: week, from: startOfWeek(today) },
      { words: $localize`this month`, count: month, from: startOfMonth(today) },
      { words: $localize`this quarter`, count: quarter, from: startOfQuarter(today) },
    ];
  });
  protected readonly wonQuery = { as: 'list', status: 'won', period: 'month', owner: 'mine' };
  protected readonly channels = computed(
    () => Object.entries(this.round()?.counts.channels ?? {}) as [Channel, number][],
  );
  /** The chosen row; when it is done the one in its place is chosen. */
  protected readonly chosenKey = linkedSignal<readonly RoundRow[], string | null>({
    source: this.store.rows,
    computation: (rows, before) => {
      if (before?.value && rows.some((row) => row.key === before.value)) return before.value;
      const at = before?.value ? before.source.findIndex((row) => row.key === before.value) : -1;
      return at >= 0 ? (rows[Math.min(at, rows.length - 1)]?.key ?? null) : null;
    },
  });
  private readonly markedKeys = signal<ReadonlySet<string>>(noKeys);
  /** Rows that several acts are for at once; what has gone is marked no more. */
  protected readonly marked = computed(() =>
    this.store.rows().filter(({ key }) => this.markedKeys().has(key)),
  );
  protected readonly markedMinutes = computed(() =>
    this.marked().reduce((sum, { minutes }) => sum + minutes, 0),
  );
  private readonly filters = computed((): RoundFilter => ({
    channel: this.channel(),
    due: this.due(),
    kind: this.kind(),
    owner: this.owner(),
  }));
  protected readonly movable = computed(() =>
    (this.round()?.below ?? []).filter((row) => row.moveTo !== null && !row.askToKeep),
  );

  constructor() {
    effect(() => {
      const filter = this.filters();
      untracked(() => this.store.show(filter));
    });
    inject(DestroyRef).onDestroy(this.store.watch());
    inject(Keys).bind(
      { keys: 'w', words: $localize`Walk the round`, act: () => this.walk() },
      { keys: 'Enter', words: $localize`Act on the chosen row`, act: () => this.walk() },
      { keys: 'ArrowDown', words: $localize`Next row`, act: () => this.step(1) },
      { keys: 'ArrowUp', words: $localize`Row before`, act: () => this.step(-1) },
      {
        keys: 'Alt+ArrowUp',
        words: $localize`Put the chosen row one up`,
        act: () => this.nudge(-1),
        applies: () => !this.isFixedOrder(),
      },
      {
        keys: 'Alt+ArrowDown',
        words: $localize`Put the chosen row one down`,
        act: () => this.nudge(1),
        applies: () => !this.isFixedOrder(),
      },
      {
        keys: 'Space',
        words: $localize`Mark the chosen row, or not`,
        act: () => this.withChosen((row) => this.mark(row)),
      },
      {
        keys: 'r',
        words: $localize`Show what has changed in the Round`,
        act: () => this.store.showNewer(),
        applies: () => this.store.changes() > 0,
      },
      {
        keys: 'z',
        words: $localize`Snooze the marked rows, or the chosen one, by a week`,
        act: () => void this.snooze(),
        applies: () => this.isChosenOpen(),
      },
      {
        keys: 'd',
        words: $localize`Defer the marked rows, or the chosen one`,
        act: () => void this.defer(),
        applies: () => this.isChosenOpen(),
      },
      {
        keys: 'h',
        words: $localize`Give the chosen row a time today`,
        act: () => void this.setTime(),
        applies: () => this.isChosenOpen(),
      },
      {
        keys: 'p',
        words: $localize`Pin the chosen row`,
        act: () => this.withChosen((row) => this.store.pin(row)),
        applies: () => !this.isFixedOrder(),
      },
      { keys: 'x', words: $localize`Drop the chosen row`, act: () => void this.drop() },
      {
        keys: 't',
        words: $localize`Give the chosen row a next step`,
        act: () => void this.plan(),
        applies: () => this.isChosenOpen(),
      },
    );
  }

  protected choose(row: RoundRow): void {
    this.chosenKey.set(row.key);
    if (row.contactId !== null) this.selected.open({ kind: 'contact', id: row.contactId });
    else if (row.dealId !== null) this.selected.open({ kind: 'deal', id: row.dealId });
  }

  protected filter(by: Partial<Record<'channel' | 'due' | 'kind', string | null>>): void {
    this.selected.setQuery(by);
  }

  protected showAll(): void {
    this.filter({ channel: null, due: null, kind: null });
  }

  protected walk(row: RoundRow | null = null): void {
    if (row === null && this.marked().length > 0) return this.walkMarked();
    const key = row?.key ?? this.chosenKey() ?? this.store.rows()[0]?.key;
    const queryParams = { key, only: this.channel(), from: this.kind(), due: this.due(), of: this.owner() };
    if (key) void this.router.navigate(['/walk'], { queryParams });
  }

  private walkMarked(): void {
    const stops = this.marked().flatMap((row): WalkStop[] =>
      row.contactId === null
        ? []
        : [
            {
              ...{ taskId: row.taskId, contactId: row.contactId, dealId: row.dealId, channel: row.channel },
              ...{ minutes: row.minutes, name: row.contactName },
            },
          ],
    );
    if (stops.length === 0) return this.notices.say($localize`None of them is about a person.`);
    this.lists.startWith(stops, $localize`${stops.length}:count: marked rows`);
  }

  protected mark(row: RoundRow): void {
    const marked = new Set(this.markedKeys());
    if (!marked.delete(row.key)) marked.add(row.key);
    this.markedKeys.set(marked);
  }

  protected unmark(): void {
    this.markedKeys.set(noKeys);
  }

  /** All below the line, to the days that have room for them, once the days were looked at. */
  protected moveAll(): Promise<void> {
    return this.move(this.movable());
  }

  /** One is asked its day; several are shown with what the days come to. */
  protected async defer(): Promise<void> {
    const rows = this.meant();
    const [row] = rows;
    if (row === undefined) return;
    if (rows.length > 1) return this.move(rows);
    if (row.askToKeep) return this.ask(row);
    const to = await (await this.taskActs()).askDay({ name: row.contactName, roomOn: row.moveTo });
    if (to) this.store.move([{ row, to }], () => $localize`Deferred.`);
  }

  /** By a week, to a working day. What was moved often enough is asked about first. */
  protected async snooze(): Promise<void> {
    const rows = this.meant();
    const [asked] = rows.filter(({ askToKeep }) => askToKeep);
    if (asked !== undefined) return rows.length === 1 ? this.ask(asked) : this.move(rows);
    const to = this.user.workdayFrom(addDays(this.user.today(), 7));
    this.store.move(
      rows.map((row) => ({ row, to })),
      (moved) => (moved === 1 ? $localize`Snoozed by a week.` : $localize`${moved} snoozed by a week.`),
    );
    this.unmark();
  }

  private async move(rows: readonly RoundRow[]): Promise<void> {
    const days = this.round()?.days ?? [];
    const { MoveDialog } = await import('./move-dialog');
    const opened = await this.dialogs.open<unknown, MoveAsked, MovedRow[]>(MoveDialog, {
      data: { rows, days },
      width: '620px',
    });
    const moved = await firstValueFrom(opened.afterClosed());
    if (moved === undefined) return;
    this.store.move(moved, (count) => $localize`${count} moved.`);
    this.unmark();
  }

  /** A word to whoever's Round it is, in the journal of whom the row is about. */
  protected async note(row: RoundRow): Promise<void> {
    const { NoteDialog } = await import('./note-dialog');
    await this.dialogs.open(NoteDialog, { data: { row, name: this.ownerName() }, width: '440px' });
  }

  /** A row that was moved three times or more: what is wrong with it? */
  protected async ask(row: RoundRow): Promise<void> {
    const { AskToKeep } = await import('./ask-to-keep');
    const answer = await this.injector.get(AskToKeep).ask(row);
    if (answer === 'do') this.walk(row);
    if (answer === 'move') await this.move([row]);
    if (answer === 'changed') this.store.again();
  }

  /** A row that was dragged is let go over another. */
  protected putBeside(target: RoundRow, where: 'before' | 'after'): void {
    const row = this.dragged.row();
    this.dragged.row.set(null);
    const rows = this.store.rows();
    const at = rows.findIndex(({ key }) => key === target.key);
    if (row === null || at < 0 || row.key === target.key) return;
    this.put(row, where === 'before' ? target : (rows[at + 1] ?? null), this.isAbove(target));
  }

  /** One place up or down; over the line where the free minutes end that is the line itself. */
  protected nudge(by: -1 | 1): void {
    const row = this.store.byKey(this.chosenKey());
    if (row === null) return;
    const rows = this.store.rows();
    const at = rows.findIndex(({ key }) => key === row.key);
    const other = rows[at + by];
    const isHere = this.isAbove(row);
    // Over the line it stays where it is in the order: only its side changes.
    if (other === undefined || this.isAbove(other) !== isHere) {
      if (this.round()!.below.length > 0 && isHere === by > 0) this.put(row, rows[at + 1] ?? null, !isHere);
      return;
    }
    this.put(row, (by < 0 ? other : rows[at + 2]) ?? null, isHere);
    setTimeout(() => document.getElementById(row.key)?.scrollIntoView({ block: 'nearest' }));
  }

  private put(row: RoundRow, before: RoundRow | null, isToday: boolean): void {
    if (row.fixedAt !== null) {
      const time = this.user.timeOf(row.fixedAt);
      this.notices.say(
        $localize`It is promised for ${time}:time:, and is done then. Change its time instead.`,
      );
      return;
    }
    this.store.putByHand(row, before, isToday);
  }

  private isAbove({ key }: RoundRow): boolean {
    return this.round()?.above.some((row) => row.key === key) ?? false;
  }

  /** The marked rows, or the one that is chosen. */
  private meant(): readonly RoundRow[] {
    if (this.marked().length > 0) return this.marked();
    const row = this.store.byKey(this.chosenKey());
    return row === null ? [] : [row];
  }

  protected async setTime(): Promise<void> {
    const row = this.store.byKey(this.chosenKey());
    if (row === null) return;
    const { PlaceInDay } = await import('../calendar/index');
    await this.injector.get(PlaceInDay).ask(row);
  }

  /** A next step for whoever the row is about, and for the deal that has none. */
  protected async plan(): Promise<void> {
    const { TaskDialog } = await import('../dossier/task-dialog');
    this.withChosen(
      ({ contactId, dealId, contactName: name }) =>
        void this.dialogs.open(TaskDialog, { data: { contactId, dealId, name }, width: '460px' }),
    );
  }

  protected async drop(): Promise<void> {
    const row = this.store.byKey(this.chosenKey());
    if (row === null || row.taskId === null) return;
    const reason = await (await this.taskActs()).askReason({ name: row.purpose, repeats: null });
    if (reason) this.store.drop(row, reason);
  }

  /** Read when it is needed: what plans a step brings the calendar with it. */
  private async taskActs() {
    const { TaskActs } = await import('../tasks/index');
    return this.injector.get(TaskActs);
  }

  /** Whether the chosen row is about whatever is open; once something else is, keys are for that. */
  private isChosenOpen(): boolean {
    const row = this.store.byKey(this.chosenKey());
    const open = this.selected.record();
    return row !== null && (open === null || open.id === row.contactId || open.id === row.dealId);
  }

  private withChosen(act: (row: RoundRow) => void): void {
    const row = this.store.byKey(this.chosenKey());
    if (row) act(row);
  }

  private step(by: number): void {
    const rows = this.store.rows();
    const at = rows.findIndex((row) => row.key === this.chosenKey());
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (!next) return;
    this.choose(next);
    document.getElementById(next.key)?.scrollIntoView({ block: 'nearest' });
  }
}
