import { CountPipe } from '../../kit/say.pipes';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { DoneRow } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { startOfMonth, startOfQuarter, startOfWeek } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';

interface Day {
  readonly on: string;
  readonly rows: readonly DoneRow[];
  readonly minutes: number;
}

/** What I did: today, or in a period. The Round's head counts the same. */
@Component({
  selector: 'kettle-done-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CountPipe,
    DayField,
    DayPipe,
    Empty,
    Failed,
    MatButtonModule,
    MatCheckboxModule,
    MatIcon,
    RouterLink,
    Waiting,
  ],
  templateUrl: './done-page.html',
  styleUrl: './done-page.scss',
})
export class DonePage {
  protected readonly texts = {
    minutes: $localize`minute|minutes`,
    conversations: $localize`conversation|conversations`,
    finished: $localize`Finished`,
    min: (minutes: string | number) => $localize`${minutes}:minutes: min`,
    noMeetingOrVisit: $localize`No meeting or visit was held`,
    nothingIsLogged: $localize`Nothing is logged`,
  };

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  /** From the address: `2026-11-24`; left out, today. */
  readonly from = input<string>();
  readonly to = input<string>();
  /** Only meetings and visits that took place. */
  readonly met = input<string>();
  protected readonly labels = channelLabel;

  protected readonly read = reading((query: { from?: string; to?: string; met?: string }) =>
    this.api.call('whatIsDone', { query }),
  );
  protected readonly periods = computed(() => {
    const today = this.user.today();
    return [
      { words: $localize`today`, from: today },
      { words: $localize`this week`, from: startOfWeek(today) },
      { words: $localize`this month`, from: startOfMonth(today) },
      { words: $localize`this quarter`, from: startOfQuarter(today) },
    ];
  });
  protected readonly first = computed(() => this.read.value()?.from ?? this.user.today());
  protected readonly last = computed(() => this.read.value()?.to ?? this.user.today());
  protected readonly days = computed((): readonly Day[] => {
    const byDay = new Map<string, DoneRow[]>();
    for (const row of this.read.value()?.rows ?? []) {
      const on = this.user.dateOf(row.at);
      byDay.set(on, [...(byDay.get(on) ?? []), row]);
    }
    return [...byDay].map(([on, rows]) => ({
      on,
      rows,
      minutes: rows.reduce((sum, { minutes }) => sum + (minutes ?? 0), 0),
    }));
  });

  constructor() {
    const ask = () => this.read.read({ from: this.from(), to: this.to(), met: this.met() });
    effect(() => {
      this.from();
      this.to();
      this.met();
      untracked(ask);
    });
    const stream = inject(ChangeStream);
    stream
      .mine('journal', 'task')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected timeOf({ at }: DoneRow): string {
    return this.user.timeOf(at);
  }

  protected isShown(from: string): boolean {
    return this.first() === from && this.last() === this.user.today();
  }

  protected show(part: { from?: string | null; to?: string | null; met?: string | null }): void {
    this.selected.setQuery(part);
  }
}
