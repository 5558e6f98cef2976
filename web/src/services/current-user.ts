import { computed, Injectable, signal } from '@angular/core';
import type { Channel, Session } from '@kettle/contract';
import { usualMinutes } from '@kettle/contract/base/channels';
import { localeOf, writeAs } from '@kettle/core/locale';
import {
  addDays,
  onOrAfterWorkingDay,
  sayMinute,
  sayWeekday,
  whyNotWorking,
  type WorkingCalendar,
} from '@kettle/core/time';
import { beenHere } from './been-here';

const tickMillis = 15_000;
const usualHours = { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1020 };

/** Who sits here, where and when: the signed-in person, their zone, and the server's clock. */
@Injectable({ providedIn: 'root' })
export class CurrentUser {
  private readonly known = signal<Session | null>(null);
  /** The server's clock less this machine's, so that both show the same time. */
  private shiftMillis = 0;
  private readonly tick = signal(0);

  readonly session = this.known.asReadonly();
  readonly person = computed(() => this.known()?.person ?? null);
  readonly currency = computed(() => this.known()?.currency ?? 'GBP');
  /** A manager or an admin: whoever answers for others. */
  readonly isManager = computed(() => (this.person()?.role ?? 'rep') !== 'rep');
  readonly mayExport = computed(() => this.known()?.rights.exports ?? false);
  /** Whether one's changes of what goes out by itself hold at once, and others' may be released. */
  readonly mayRelease = computed(() => this.known()?.rights.releases ?? false);
  /** How long a step by each channel takes, unless it is said. */
  readonly minutes = computed((): Readonly<Record<Channel, number>> => this.known()?.minutes ?? usualMinutes);
  /** Currencies an amount may be in, the organisation's own first. */
  readonly currencies = computed(() => this.known()?.currencies ?? [this.currency()]);
  /** Where dates, numbers and weeks are written as in the reader's country; the words are English. */
  readonly locale = computed(() =>
    localeOf(this.person()?.country ?? 'GB', document.documentElement.lang || undefined),
  );
  readonly zone = computed(() => this.person()?.zone ?? 'UTC');
  private readonly calendar = computed((): WorkingCalendar => {
    const { weekdays, start, end } = this.person()?.hours ?? usualHours;
    return {
      ...{ weekdays, startMinute: start, endMinute: end, zone: this.zone() },
      holidays: new Map(Object.entries(this.known()?.holidays ?? {})),
      place: '',
    };
  });
  readonly now = computed(() => {
    this.tick();
    return new Date(Date.now() + this.shiftMillis).toISOString();
  });
  readonly today = computed(() => this.dateOf(this.now()));
  readonly nextWorkday = computed(() => this.workdayFrom(addDays(this.today(), 1)));

  constructor() {
    writeAs(this.locale);
    setInterval(() => this.tick.update((n) => n + 1), tickMillis);
  }

  /** A day, or the reader's next working day after it. */
  workdayFrom(day: string): string {
    return onOrAfterWorkingDay(day, this.calendar());
  }

  /** Why the reader does not work on a day: the holiday's name, or the weekday; null on a working day. */
  whyOff(day: string): string | null {
    if (whyNotWorking(day, this.calendar()) === null) return null;
    return this.calendar().holidays.get(day) ?? sayWeekday(day);
  }

  enter(session: Session): void {
    this.shiftMillis = Date.parse(session.now) - Date.now();
    this.known.set(session);
    beenHere.note();
    this.tick.update((n) => n + 1);
  }

  leave(): void {
    beenHere.forget();
    this.known.set(null);
  }

  /** Whether what belongs to an owner may be changed: what is one's own, nobody's, or a led person's. The server decides again. */
  mayChange(ownerId: string | null): boolean {
    const session = this.known();
    if (session === null) return false;
    const { changes } = session.rights;
    return (
      ownerId === null ||
      ownerId === session.person.id ||
      changes === null ||
      changes.some((id) => id === ownerId)
    );
  }

  /** The same of a deal, which its team may change too. */
  mayChangeDeal({
    ownerId,
    teamIds,
  }: {
    readonly ownerId: string;
    readonly teamIds: readonly string[];
  }): boolean {
    return this.mayChange(ownerId) || teamIds.some((id) => id === this.person()?.id);
  }

  /** The calendar date of an instant in the reader's zone. */
  dateOf(at: string, zone = this.zone()): string {
    return formatOf('en-CA', zone, { year: 'numeric', month: '2-digit', day: '2-digit' }).format(
      new Date(at),
    );
  }

  /** The time of day in the reader's zone or another, as their country writes it: `09:15`, or `9:15 AM`. */
  timeOf(at: string, zone = this.zone()): string {
    return sayMinute(this.minuteOf(at, zone));
  }

  /** Minutes after local midnight. */
  minuteOf(at: string, zone = this.zone()): number {
    const time = formatOf('en-GB', zone, { hour: '2-digit', minute: '2-digit' }).format(new Date(at));
    const [hour = 0, minute = 0] = time.split(':').map(Number);
    return hour * 60 + minute;
  }
}

const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(
  locale: string,
  timeZone: string,
  options: Intl.DateTimeFormatOptions,
): Intl.DateTimeFormat {
  const key = `${locale} ${timeZone} ${Object.keys(options).join()}`;
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.DateTimeFormat(locale, { timeZone, ...options });
  formats.set(key, made);
  return made;
}
