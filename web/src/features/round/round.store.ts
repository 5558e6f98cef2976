import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CallOf, Channel, EndpointName, Round, RoundRow } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';

/** So many rows are read at first, and so many more each time the end comes near. */
const rowsAtOnce = 150;
/** The walk reads on before it comes to the end of what is there. */
const rowsAhead = 20;

export interface RoundFilter {
  readonly channel?: Channel | undefined;
  readonly due?: 'late' | 'today' | undefined;
}

/** The Round as it stands on the server, kept fresh while anything it rests on changes. */
@Injectable({ providedIn: 'root' })
export class RoundStore {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly filter = signal<RoundFilter>({});
  private limit = rowsAtOnce;
  private readonly source = reading((query: CallOf<'round'>['query']) => this.api.call('round', { query }));

  readonly state = this.source.state;
  readonly round = this.source.value;
  readonly rows = computed((): readonly RoundRow[] => rowsOf(this.round()));

  constructor() {
    inject(ChangeStream)
      .mine(
        ...([
          'task',
          'journal',
          'contact',
          'deal',
          'agreement',
          'run',
          'appointment',
          'user',
          'import',
        ] as const),
        ...(['lead', 'stirring', 'setting'] as const),
      )
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.again());
  }

  show(filter: RoundFilter): void {
    this.filter.set(filter);
    this.limit = rowsAtOnce;
    this.read();
  }

  /** The same, unless it is shown so already. */
  showUnless(filter: RoundFilter): void {
    const shown = this.filter();
    const isSame = shown.channel === filter.channel && shown.due === filter.due;
    if (this.state().kind === 'idle' || !isSame) this.show(filter);
  }

  again(): void {
    if (this.state().kind !== 'idle') this.read();
  }

  /** The rows behind those that are there, as the end of these comes near. */
  readMore(): void {
    if ((this.round()?.more ?? 0) === 0 || this.state().kind === 'loading') return;
    this.limit += rowsAtOnce;
    this.read();
  }

  private read(): void {
    // Left out, so many are sent as there are at first.
    this.source.read({ ...this.filter(), ...(this.limit > rowsAtOnce && { limit: this.limit }) });
  }

  /** The row after this one, when this one is done; null at the end of the Round. */
  after(key: string): RoundRow | null {
    const rows = this.rows();
    const at = rows.findIndex((row) => row.key === key);
    if (at >= rows.length - rowsAhead) this.readMore();
    return rows[at + 1] ?? rows.find((row) => row.key !== key) ?? null;
  }

  byKey(key: string | null): RoundRow | null {
    return this.rows().find((row) => row.key === key) ?? null;
  }

  /** Takes a row away at once; the next reading tells how it really is. */
  takeAway(key: string): void {
    const round = this.round();
    if (round === null) return;
    const without = (rows: readonly RoundRow[]) => rows.filter((row) => row.key !== key);
    this.source.put({ ...round, above: without(round.above), below: without(round.below) });
  }

  pin(row: RoundRow): void {
    const place = row.pinned ? 'unpin' : 'pin';
    const words = row.pinned
      ? $localize`Back in its computed place.`
      : $localize`Pinned to the top of today.`;
    this.carryOut('placeRow', { body: { key: row.key, place } }, words);
  }

  /** Moves rows to their days; those without one stay. */
  move(rows: readonly { row: RoundRow; to: string }[], words: (moved: number) => string): void {
    const body = {
      rows: rows.map(({ row, to }) => ({
        taskId: row.taskId,
        taskVersion: row.taskVersion,
        contactId: row.contactId,
        dealId: row.dealId,
        channel: row.channel,
        purpose: row.purpose,
        minutes: row.minutes,
        to,
      })),
    };
    const changeId = v7();
    this.api.call('moveRows', { body }, changeId).subscribe({
      next: ({ moved, refused }) => {
        const stayed = refused.map(
          ({ purpose, why }) => $localize`“${purpose}:purpose:” stayed: ${why}:why:`,
        );
        this.undo.offer([words(moved), ...stayed].join(' '), changeId, () => this.again());
        this.again();
      },
      error: (error: unknown) => this.fail(error),
    });
  }

  drop(row: RoundRow, reason: string): void {
    if (row.taskId === null) return;
    this.takeAway(row.key);
    const call = { params: { id: row.taskId }, body: { reason } };
    this.carryOut('dropTask', call, $localize`Dropped, with its reason.`);
  }

  private carryOut<Name extends EndpointName>(name: Name, call: CallOf<Name>, words: string): void {
    const changeId = v7();
    this.api.call(name, call, changeId).subscribe({
      next: () => {
        this.undo.offer(words, changeId, () => this.again());
        this.again();
      },
      error: (error: unknown) => this.fail(error),
    });
  }

  private fail(error: unknown): void {
    this.notices.problem(error);
    this.again();
  }
}

function rowsOf(round: Round | null): readonly RoundRow[] {
  return round === null ? [] : [...round.above, ...round.below];
}
