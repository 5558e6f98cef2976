import { sayMonth } from '@kettle/core/time';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  Injector,
  input,
  linkedSignal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { Channel, RoundRow } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import { Api } from '../../api/api';
import { ExplainedWord } from '../../kit/own-word';
import { MoneyPipe } from '../../kit/say.pipes';
import { Seen } from '../../kit/seen';
import { Empty, Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { LateDialog } from '../../kit/late-dialog';
import { Keys } from '../../services/keys';
import { SelectedRecord } from '../../services/selected-record';
import { SetupSteps } from '../setup/index';
import { RoundRowPart } from './round-row';
import { TeamDay } from './team-day';
import { RoundStore } from './round.store';

/** Today's queue in its computed order, with the line where the day's free minutes end. */
@Component({
  selector: 'kettle-round-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ExplainedWord,
    MatButtonModule,
    RoundRowPart,
    Empty,
    Failed,
    Waiting,
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
  protected readonly api = inject(Api);
  protected readonly store = inject(RoundStore);
  protected readonly user = inject(CurrentUser);

  /** Filters from the address. */
  readonly channel = input<Channel>();
  readonly due = input<'late' | 'today'>();

  protected readonly labels = channelLabel;
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
  protected readonly movable = computed(() =>
    (this.round()?.below ?? []).filter((row) => row.moveTo !== null && !row.askToKeep),
  );

  constructor() {
    effect(() => {
      const filter = { channel: this.channel(), due: this.due() };
      untracked(() => this.store.show(filter));
    });
    inject(Keys).bind(
      { keys: 'w', words: $localize`Walk the round`, act: () => this.walk() },
      { keys: 'Enter', words: $localize`Act on the chosen row`, act: () => this.walk() },
      { keys: 'ArrowDown', words: $localize`Next row`, act: () => this.step(1) },
      { keys: 'ArrowUp', words: $localize`Row before`, act: () => this.step(-1) },
      {
        keys: 'd',
        words: $localize`Defer the chosen row`,
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

  protected filter(channel: Channel | null, due: 'late' | 'today' | null): void {
    this.selected.setQuery({ channel, due });
  }

  protected walk(row: RoundRow | null = null): void {
    const key = row?.key ?? this.chosenKey() ?? this.store.rows()[0]?.key;
    const queryParams = { key, only: this.channel(), due: this.due() };
    if (key) void this.router.navigate(['/walk'], { queryParams });
  }

  protected moveAll(): void {
    const rows = this.movable().map((row) => ({ row, to: row.moveTo! }));
    this.store.move(rows, (moved) => $localize`${moved} moved to the days that have room.`);
  }

  protected async defer(): Promise<void> {
    const row = this.store.byKey(this.chosenKey());
    if (row === null) return;
    const to = await (await this.taskActs()).askDay({ name: row.contactName, roomOn: row.moveTo });
    if (to) this.store.move([{ row, to }], () => $localize`Deferred.`);
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
