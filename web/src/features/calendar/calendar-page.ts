import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { CalendarEntry, UserId } from '@kettle/contract';
import { weeksOfMonth } from '@kettle/core/calendar';
import { addDays, addMonths, isoWeekday, minutesBetween, sayDate, sayMonth } from '@kettle/core/time';
import { firstValueFrom, merge } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField } from '../../kit/choice-field';
import { firstWeekday } from '../../kit/day-adapter';
import { KeyHint } from '../../kit/key-hint';
import { onPhone } from '../../kit/on-phone';
import { Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { mostStops, WalkLists } from '../../services/walk-lists';
import { PeopleWords } from '../fields/index';
import { AgendaList } from './agenda-list';
import { AppointmentActs } from './appointment-acts';
import { DayGrid, type GridColumn, type MovedEntry, type PickedTime } from './day-grid';
import { EntryMoves } from './entry-moves';
import { MonthGrid } from './month-grid';
import type { NudgedEntry } from './moved-by-key';
import { tasksOf } from './tasks-of';

const shapes = ['day', 'week', 'month', 'agenda'] as const;
type Shape = (typeof shapes)[number];

const agendaDays = 14;
const quarter = 15;

/** Appointments and promised times of a day, a week, a month, or as a list: one's own, a colleague's, or the team's side by side. */
@Component({
  selector: 'kettle-calendar-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    RouterLink,
    MatButtonModule,
    MatIcon,
    ChoiceField,
    KeyHint,
    Failed,
    Waiting,
    DayGrid,
    MonthGrid,
    AgendaList,
  ],
  providers: [EntryMoves],
  templateUrl: './calendar-page.html',
  styleUrl: './calendar-page.scss',
})
export class CalendarPage {
  protected readonly texts = {
    previous: $localize`Earlier`,
    next: $localize`Later`,
    mine: $localize`Mine`,
    team: $localize`The team’s`,
    shape: {
      day: $localize`Day`,
      week: $localize`Week`,
      month: $localize`Month`,
      agenda: $localize`Agenda`,
    } satisfies Record<Shape, string>,
  };

  private readonly api = inject(Api);
  private readonly people = inject(PeopleWords);
  private readonly acts = inject(AppointmentActs);
  private readonly moves = inject(EntryMoves);
  private readonly notices = inject(Notices);
  private readonly lists = inject(WalkLists);
  private readonly isPhone = onPhone();
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly view = input<string>();
  readonly on = input<string>();
  readonly who = input<string>();
  /** The appointment that was asked for by a notice. */
  readonly appointment = input<string>();

  protected readonly shape = computed((): Shape => {
    const asked = shapes.find((each) => each === this.view());
    // Seven days side by side cannot be read on a phone.
    if (this.isPhone()) return asked === undefined || asked === 'week' ? 'agenda' : asked;
    if (asked !== undefined) return asked;
    return this.isTeam() ? 'day' : 'week';
  });
  protected readonly shapes = computed(() => shapes.filter((each) => !this.isPhone() || each !== 'week'));
  protected readonly day = computed(() => {
    const on = this.on();
    return on !== undefined && /^\d{4}-\d{2}-\d{2}$/.test(on) ? on : this.user.today();
  });
  protected readonly isTeam = computed(() => this.who() === 'team');
  private readonly weekStart = computed(() => firstWeekday(this.user.locale()) || 7);

  private readonly span = computed((): { readonly from: string; readonly days: number } => {
    const day = this.day();
    switch (this.shape()) {
      case 'day':
        return { from: day, days: 1 };
      case 'week':
        return { from: addDays(day, -((isoWeekday(day) - this.weekStart() + 7) % 7)), days: 7 };
      case 'month':
        return weeksOfMonth(day, this.weekStart());
      case 'agenda':
        return { from: day, days: agendaDays };
    }
  });
  protected readonly calendar = reading(
    (query: { from: string; days: number; who: 'mine' | 'team' | UserId }) =>
      this.api.call('calendar', { query }),
  );
  private readonly outside = reading((_: null) => this.api.call('outsideCalendars'));
  /** What is wrong with my calendars elsewhere: those that could not be read, and where both sides differ. */
  protected readonly outsideTroubles = computed((): string[] =>
    (this.outside.value()?.calendars ?? []).flatMap(({ name, failure, questions }) => [
      ...(failure === null ? [] : [$localize`${name}:name: could not be read: ${failure}:failure:`]),
      ...questions.map(({ ours, theirs }) =>
        theirs === null
          ? $localize`${ours.title}:title: was deleted in ${name}:name:.`
          : $localize`${ours.title}:title: differs in ${name}:name:.`,
      ),
    ]),
  );
  protected readonly days = computed(() => this.calendar.value()?.days ?? []);
  protected readonly entries = computed(() => this.moves.shown(this.calendar.value()?.entries ?? []));
  protected readonly columns = computed((): readonly GridColumn[] => {
    const found = this.calendar.value();
    if (found === null) return [];
    const [first] = found.days;
    if (this.isTeam() && this.shape() === 'day' && first)
      return found.people.map(({ userId, name }) => ({
        key: userId,
        day: first,
        title: name,
        personId: userId,
        entries: this.entries().filter(({ personIds }) => personIds.includes(userId)),
      }));
    return found.days.map((day) => ({
      key: day.on,
      day,
      title: sayDate(day.on, this.user.today()),
      personId: null,
      entries: this.entries(),
    }));
  });
  protected readonly title = computed(() => {
    const { from, days } = this.span();
    const today = this.user.today();
    if (this.shape() === 'month') return `${sayMonth(this.day(), 'long')} ${this.day().slice(0, 4)}`;
    if (days === 1) return sayDate(from, today);
    return `${sayDate(from, today)} – ${sayDate(addDays(from, days - 1), today)}`;
  });
  protected readonly whose = computed(() => [
    { value: 'mine', words: this.texts.mine },
    { value: 'team', words: this.texts.team },
    ...this.people
      .colleagues()
      .filter(({ id }) => id !== this.user.person()?.id)
      .map(({ id, name }) => ({ value: id as string, words: name })),
  ]);

  protected readonly isMine = computed(() => (this.who() ?? 'mine') === 'mine');

  constructor() {
    this.people.wake();
    inject(DestroyRef).onDestroy(() => this.moves.sendAll(() => undefined));
    effect(() => {
      const { from, days } = this.span();
      const who = (this.who() ?? 'mine') as 'mine' | 'team' | UserId;
      untracked(() => this.calendar.read({ from, days, who }));
    });
    effect(() => {
      const id = this.appointment();
      if (id === undefined) return;
      untracked(() => {
        this.selected.setQuery({ appointment: null });
        void this.acts.open(id, () => this.calendar.again());
      });
    });
    const stream = inject(ChangeStream);
    // A colleague who moves something is seen at once; tasks without a time are only counted here.
    merge(stream.of('appointment'), stream.counted('task', 'user'))
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.calendar.again());
    this.outside.read(null);
    stream
      .mine('appointment')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.outside.again());
    inject(Keys).bind(
      { keys: 'a', words: $localize`Plan an appointment`, act: () => void this.plan() },
      {
        keys: 'w',
        words: $localize`Walk the tasks of the day`,
        act: () => void this.walkDay(),
        applies: () => this.isMine(),
      },
      { keys: 'ArrowLeft', words: this.texts.previous, act: () => this.step(-1) },
      { keys: 'ArrowRight', words: this.texts.next, act: () => this.step(1) },
      { keys: '.', words: $localize`Today`, act: () => this.goTo(this.user.today()) },
    );
  }

  protected step(by: 1 | -1): void {
    const day = this.day();
    const steps = { day: 1, week: 7, month: 0, agenda: agendaDays };
    this.goTo(
      this.shape() === 'month'
        ? addMonths(`${day.slice(0, 7)}-01`, by)
        : addDays(day, by * steps[this.shape()]),
    );
  }

  protected goTo(on: string): void {
    this.selected.setQuery({ on: on === this.user.today() ? null : on });
  }

  protected turn(shape: Shape): void {
    this.selected.setQuery({ view: shape });
  }

  protected openDay(on: string): void {
    this.selected.setQuery({ view: 'day', on });
  }

  protected choose(who: string | null): void {
    this.selected.setQuery({ who: who === 'mine' ? null : who, ...(who === 'team' && { view: 'day' }) });
  }

  /** One's own open tasks of the day that is shown, one after the other; those for a time in their order. */
  protected async walkDay(): Promise<void> {
    const query = { ...tasksOf(this.day()), owner: 'mine' as const, limit: mostStops };
    try {
      const { rows } = await firstValueFrom(this.api.call('taskTable', { query }));
      const title = sayDate(this.day(), this.user.today());
      if (rows.length === 0) this.notices.say($localize`No task of yours is open on this day.`);
      else
        await this.lists.start(
          'task',
          rows.map(({ id }) => id),
          title,
        );
    } catch (error) {
      this.notices.problem(error);
    }
  }

  /** Without a time it is the next full hour of the day on screen. */
  protected async plan(at?: PickedTime): Promise<void> {
    const day = this.day() < this.user.today() ? this.user.today() : this.day();
    const nextHour = Math.min(22, Math.floor(this.user.minuteOf(this.user.now()) / 60) + 1) * 60;
    const time = at ?? { on: day, minute: day === this.user.today() ? nextHour : 600, personId: null };
    const ownerId = time.personId ?? (this.isTeam() ? null : (this.who() ?? null));
    await this.acts.plan(
      {
        on: time.on,
        startMinute: time.minute,
        ...(ownerId !== null && this.user.mayChange(ownerId) && { ownerId }),
      },
      () => this.calendar.again(),
    );
  }

  /** What was promised for a time is seen with its person; an appointment is opened. */
  protected openEntry(entry: CalendarEntry): void {
    if (entry.kind === 'appointment') void this.acts.open(entry.id, () => this.calendar.again());
    else if (entry.contactId !== null) this.selected.open({ kind: 'contact', id: entry.contactId });
    else if (entry.dealId !== null) this.selected.open({ kind: 'deal', id: entry.dealId });
  }

  /** From where it is shown by now, which may not be drawn yet. */
  protected nudge({ entry: { id }, by }: NudgedEntry): void {
    const entry = this.entries().find((each) => each.id === id);
    if (entry === undefined) return;
    const minutes = minutesBetween(entry.startsAt, entry.endsAt);
    const minute = this.user.minuteOf(entry.startsAt) + by.minutes;
    this.move({
      entry,
      on: addDays(this.user.dateOf(entry.startsAt), by.days),
      minute: Math.min(1440 - quarter, Math.max(0, minute)),
      minutes: by.longer === 0 ? minutes : Math.max(quarter, minutes + by.longer),
    });
  }

  /** Shown at once where it was let go of. */
  protected move(moved: MovedEntry): void {
    this.moves.move(moved, this.settled);
  }

  private readonly settled = (now: CalendarEntry | null): void => {
    const found = this.calendar.value();
    if (found !== null && now !== null)
      this.calendar.put({
        ...found,
        entries: found.entries.map((each) => (each.id === now.id ? now : each)),
      });
    this.calendar.again();
  };
}
