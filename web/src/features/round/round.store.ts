import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CallOf, CandidateKind, Channel, EndpointName, Round, RoundRow, UserId } from '@kettle/contract';
import { countChanges } from '@kettle/core/round';
import { filter, interval, map } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';

/** So many rows are read at first, and so many more each time the end comes near. */
const rowsAtOnce = 150;
/** How long the hand rests before a row that it moved is sent. */
const restMillis = 400;
/** The walk reads on before it comes to the end of what is there. */
const rowsAhead = 20;

/** How often the Round is looked at again while it is open: the day's free minutes run out. */
const lookEvery = 5 * 60_000;

export interface RoundFilter {
  readonly channel?: Channel | undefined;
  readonly kind?: CandidateKind | undefined;
  readonly due?: 'late' | 'today' | 'tomorrow' | undefined;
  /** Whose; left out, one's own. */
  readonly owner?: UserId | undefined;
}

type Query = CallOf<'round'>['query'];

/**
 * The Round as it stands on the server. While its rows are looked at, what others change waits behind a line until it is asked for: no row
 * moves from under the finger. What one does oneself is shown at once.
 */
@Injectable({ providedIn: 'root' })
export class RoundStore {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly filter = signal<RoundFilter>({});
  private limit = rowsAtOnce;
  private readonly source = reading((query: Query) => this.api.call('round', { query }));
  private readonly look = reading((query: Query) =>
    this.api.call('round', { query }).pipe(map((round) => ({ query, round }))),
  );
  /** How many parts show its rows as a list just now. */
  private watching = 0;
  private sending = 0;

  readonly state = this.source.state;
  readonly round = this.source.value;
  readonly rows = computed((): readonly RoundRow[] => rowsOf(this.round()));
  /** A newer Round than the one on screen. */
  private readonly newer = signal<Round | null>(null);
  /** How many rows it would change on screen. */
  readonly changes = computed(() => {
    const [shown, newer] = [this.round(), this.newer()];
    return shown === null || newer === null ? 0 : changesBetween(shown, newer);
  });

  constructor() {
    effect(() => {
      const found = this.look.value();
      untracked(() => {
        if (found !== null) this.offer(found);
      });
    });
    interval(lookEvery)
      .pipe(
        filter(() => this.watching > 0),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.lookAgain());
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
      .subscribe(() => this.lookAgain());
  }

  /** Its rows are on screen as a list until the function that is returned is called. */
  watch(): () => void {
    this.watching += 1;
    return () => {
      this.watching -= 1;
      this.showNewer();
    };
  }

  /** Shows what waits behind the line. */
  showNewer(): void {
    const newer = this.newer();
    if (newer !== null) this.source.put(newer);
    this.newer.set(null);
  }

  /** What is on screen stays where somebody may be about to press, unless they changed it themselves. */
  private lookAgain(): void {
    if (this.watching === 0 || this.rows().length === 0 || this.api.hasChangedLately()) this.again();
    else this.look.read(this.query());
  }

  private offer({ query, round: newer }: { readonly query: Query; readonly round: Round }): void {
    const shown = this.round();
    // Asked before the filter was another, or before something was done here.
    if (shown === null || this.state().kind !== 'ready' || newer.asOf < shown.asOf) return;
    if (JSON.stringify(query) !== JSON.stringify(this.query())) return;
    if (this.watching > 0 && changesBetween(shown, newer) > 0) return this.newer.set(newer);
    this.newer.set(null);
    this.source.put(newer);
  }

  show(filter: RoundFilter): void {
    this.filter.set(filter);
    this.limit = rowsAtOnce;
    this.read();
  }

  /** The same, unless it is shown so already. */
  showUnless(filter: RoundFilter): void {
    const shown = this.filter();
    const isSame =
      shown.channel === filter.channel &&
      shown.due === filter.due &&
      shown.kind === filter.kind &&
      shown.owner === filter.owner;
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
    this.newer.set(null);
    this.source.read(this.query());
  }

  /** Left out, so many rows are sent as there are at first. */
  private query(): Query {
    return { ...this.filter(), ...(this.limit > rowsAtOnce && { limit: this.limit }) };
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
    const place = row.pinned || row.placed ? 'computed' : 'top';
    const words =
      place === 'computed' ? $localize`Back in its computed place.` : $localize`Pinned to the top of today.`;
    this.carryOut('placeRow', { body: { key: row.key, place } }, words);
  }

  /**
   * Puts a row before another, or behind all that are shown, for the day: at once on screen, then on the server.
   * @param before the row it is put before; null for the end
   * @param isToday whether that is above the line where the free minutes end
   */
  putByHand(row: RoundRow, before: RoundRow | null, isToday: boolean): void {
    const round = this.round();
    if (round === null || row.key === before?.key) return;
    const placed = { ...row, pinned: false, placed: true };
    const put = (rows: readonly RoundRow[], isHere: boolean) => {
      const others = rows.filter(({ key }) => key !== row.key);
      if (!isHere) return others;
      const at = others.findIndex(({ key }) => key === before?.key);
      return at < 0 ? [...others, placed] : [...others.slice(0, at), placed, ...others.slice(at)];
    };
    this.source.put({
      ...round,
      above: put(round.above, isToday),
      below: put(round.below, !isToday),
    });
    // Several presses of a key are one move: it is sent when the hand rests.
    const body = { place: 'by-hand', key: row.key, before: before?.key ?? null, isToday } as const;
    clearTimeout(this.sending);
    this.sending = window.setTimeout(
      () => this.carryOut('placeRow', { body }, $localize`Put there by hand, for today.`),
      restMillis,
    );
  }

  orderByCost(): void {
    const words = $localize`In the order of the cost of waiting again.`;
    this.carryOut('placeRow', { body: { place: 'all-computed' } }, words);
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

/** All that is read of a row on screen. */
const wordsOf = ({
  purpose,
  reasons,
  contactName,
  companyName,
  channel,
  fixedAt,
  minutes,
  ...row
}: RoundRow) =>
  JSON.stringify([
    ...[purpose, reasons, contactName, companyName, channel, fixedAt, minutes],
    ...[row.pinned, row.placed, row.moveTo, row.willMiss, row.arithmetic.costMinor],
  ]);

function changesBetween(shown: Round, newer: Round): number {
  const rows = (round: Round) =>
    rowsOf(round).map((row) => ({ key: row.key, words: `${round.above.includes(row)} ${wordsOf(row)}` }));
  return countChanges(rows(shown), rows(newer), { isCut: shown.more > 0 || newer.more > 0 });
}

function rowsOf(round: Round | null): readonly RoundRow[] {
  return round === null ? [] : [...round.above, ...round.below];
}
