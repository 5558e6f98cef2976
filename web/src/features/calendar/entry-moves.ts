import { inject, Injectable, signal } from '@angular/core';
import type { CalendarEntry } from '@kettle/contract';
import { addMinutes, localMoment } from '@kettle/core/time';
import { v7 } from 'uuid';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { AppointmentActs } from './appointment-acts';
import type { MovedEntry } from './day-grid';

const restMillis = 400;

interface Move {
  readonly moved: MovedEntry;
  /** Running until the hand rests; null once it is on its way. */
  readonly timer: ReturnType<typeof setTimeout> | null;
}

/** The moves that one follows, and where the entry was before the first of them. */
interface Earlier {
  readonly first: CalendarEntry;
  readonly changeIds: readonly string[];
}

type Settled = (now: CalendarEntry | null) => void;

/**
 * Moves that are shown and not confirmed yet. Several presses of a key are one move, sent when the hand rests; one made while another
 * of the same entry is on its way follows it with the version of its answer, and both are undone together.
 */
@Injectable()
export class EntryMoves {
  private readonly acts = inject(AppointmentActs);
  private readonly notices = inject(Notices);
  private readonly user = inject(CurrentUser);
  private readonly moves = signal<ReadonlyMap<string, Move>>(new Map());

  /** What the server said, as the hand has moved it since. */
  shown(entries: readonly CalendarEntry[]): readonly CalendarEntry[] {
    const moves = this.moves();
    return moves.size === 0
      ? entries
      : entries.map((entry) => {
          const move = moves.get(entry.id);
          return move === undefined ? entry : { ...entry, ...this.timesOf(move.moved) };
        });
  }

  /** @param settled told the entry as it is by then, or null when the move was refused: the calendar is to be read again */
  move(moved: MovedEntry, settled: Settled): void {
    const { id } = moved.entry;
    const before = this.moves().get(id);
    for (const [other, { timer }] of this.moves())
      if (other !== id && timer !== null) void this.send(other, settled);
    clearTimeout(before?.timer ?? undefined);
    const isOnItsWay = before?.timer === null;
    const timer = isOnItsWay ? null : setTimeout(() => void this.send(id, settled), restMillis);
    this.set(id, { moved: { ...moved, entry: before?.moved.entry ?? moved.entry }, timer });
  }

  /** Sends what still waits for the hand to rest. */
  sendAll(settled: Settled): void {
    for (const [id, { timer }] of this.moves()) if (timer !== null) void this.send(id, settled);
  }

  private async send(id: string, settled: Settled, earlier: Earlier | null = null): Promise<void> {
    const { moved, timer } = this.moves().get(id)!;
    clearTimeout(timer ?? undefined);
    this.set(id, { moved, timer: null });
    const first = earlier?.first ?? moved.entry;
    const changeIds = [...(earlier?.changeIds ?? []), v7()];
    const times = this.timesOf(moved);
    const to = { startsAt: times.startsAt, minutes: moved.minutes };
    let now: CalendarEntry | null = null;
    try {
      const { version } = await this.acts.move(moved.entry, to, changeIds.at(-1)!);
      const wanted = this.moves().get(id);
      now = { ...moved.entry, ...times, version };
      if (wanted !== undefined && wanted.moved !== moved) {
        this.set(id, { moved: { ...wanted.moved, entry: now }, timer: null });
        return await this.send(id, settled, { first, changeIds });
      }
      this.acts.tellMoved(first, to, changeIds, () => settled(null));
    } catch (error) {
      this.notices.problem(error);
    }
    this.set(id, null);
    settled(now);
  }

  private set(id: string, move: Move | null): void {
    this.moves.update((all) => {
      const next = new Map(all);
      if (move === null) next.delete(id);
      else next.set(id, move);
      return next;
    });
  }

  private timesOf({ on, minute, minutes }: MovedEntry) {
    const startsAt = localMoment(on, minute, this.user.zone());
    return { startsAt, endsAt: addMinutes(startsAt, minutes) };
  }
}
