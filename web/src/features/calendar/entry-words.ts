import { inject, Injectable } from '@angular/core';
import type { CalendarEntry } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';

/** What an entry of a calendar is called, and how it stands. */
@Injectable({ providedIn: 'root' })
export class EntryWords {
  private readonly user = inject(CurrentUser);

  title({ kind, contactName, title, companyName }: CalendarEntry): string {
    if (kind === 'busy' || (kind === 'outside' && title === '')) return $localize`busy`;
    return contactName ?? companyName ?? title;
  }

  /** What the title does not say: time, what for, where. */
  under(entry: CalendarEntry): string {
    const { kind, contactName, companyName, title, place } = entry;
    if (kind === 'busy') return this.times(entry);
    const purpose = (contactName ?? companyName) === null ? null : title;
    return [this.times(entry), purpose, place].filter(Boolean).join(' · ');
  }

  times({ startsAt, endsAt }: CalendarEntry): string {
    return `${this.user.timeOf(startsAt)}–${this.user.timeOf(endsAt)}`;
  }

  /** Whether there is more of it to see: what others have, and what is in another calendar, is not ours to open. */
  isClosed({ kind }: CalendarEntry): boolean {
    return kind === 'busy' || kind === 'outside';
  }

  /** It is over or settled: it can no longer be moved. */
  isOver({ endsAt, state }: CalendarEntry): boolean {
    return state !== 'planned' || endsAt <= this.user.now();
  }

  /** Over, with a customer, and nobody said whether it took place. */
  asks(entry: CalendarEntry): boolean {
    return (
      entry.state === 'planned' && entry.taskId !== null && entry.kind === 'appointment' && this.isOver(entry)
    );
  }

  kindOf(entry: CalendarEntry): 'busy' | 'outside' | 'promise' | 'asks' | 'past' | 'planned' {
    if (entry.kind === 'busy' || entry.kind === 'outside') return entry.kind;
    if (entry.kind === 'task') return 'promise';
    if (this.asks(entry)) return 'asks';
    return this.isOver(entry) ? 'past' : 'planned';
  }

  /** The whole of it, for whoever does not see where it stands. */
  say(entry: CalendarEntry): string {
    const on = sayDate(this.user.dateOf(entry.startsAt), this.user.today());
    const [from, to] = [this.user.timeOf(entry.startsAt), this.user.timeOf(entry.endsAt)];
    const what = [this.title(entry), this.under(entry).split(' · ').slice(1).join(', ')]
      .filter(Boolean)
      .join(', ');
    const state = this.stateWords(entry);
    return (
      $localize`${on}:on: ${from}:from: to ${to}:to:: ${what}:what:` + (state === '' ? '' : `. ${state}`)
    );
  }

  stateWords(entry: CalendarEntry): string {
    if (entry.kind === 'outside') return $localize`In another calendar`;
    if (this.asks(entry)) return $localize`Did it take place?`;
    if (entry.state === 'missed') return $localize`It did not take place.`;
    return '';
  }
}
