import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { CallOf, FieldDay, FieldStop, Nearby } from '@kettle/contract';
import {
  type Course,
  courseOf,
  detourOf,
  minutesBetweenPlaces,
  type Outing,
  placesOf,
  type Point,
  readPoint,
  tripOf,
} from '@kettle/core/route';
import { addDays, sayDate, sayMinute } from '@kettle/core/time';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { KeyHint } from '../../kit/key-hint';
import { moved, OrderHandle } from '../../kit/order-handle';
import { Pick } from '../../kit/pick';
import { CountPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { TextField } from '../../kit/text-field';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { FieldMap, type Mark } from './field-map';

type End = 'home' | 'office';

interface Near extends Nearby {
  readonly detour: number;
}

/** What is being put on the map: a stop's address, or where one's days begin. */
type Placing = { readonly kind: 'stop'; readonly stop: FieldStop } | { readonly kind: 'start' };

const detours = [5, 10, 20, 40] as const;
const nearShown = 12;

/** A day on the road: its visits in the best order, or in one's own with what that costs, on a list and on a map, and who is near. */
@Component({
  selector: 'kettle-field-day-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CdkDrag,
    CdkDropList,
    ChoiceField,
    CountPipe,
    Empty,
    Failed,
    FieldMap,
    KeyHint,
    MatButtonModule,
    MatIcon,
    MoneyPipe,
    OrderHandle,
    Pick,
    RouterLink,
    TextField,
    Waiting,
  ],
  templateUrl: './field-day-page.html',
  styleUrl: './field-day-page.scss',
})
export class FieldDayPage {
  protected readonly texts = {
    minutes: $localize`minute|minutes`,
    stops: $localize`visit|visits`,
    previous: $localize`The day before`,
    next: $localize`The next day`,
    late: (minutes: number) => $localize`${minutes}:minutes: min late`,
    closed: (minutes: number, stay: number) =>
      minutes >= stay
        ? $localize`nobody is there then`
        : $localize`${minutes}:minutes: min outside their hours`,
    more: (minutes: number) => $localize`${minutes}:minutes: min more driving than the best order`,
    detour: (minutes: number) => $localize`${minutes}:minutes: min more`,
    putThere: (name: string) => $localize`Press where ${name}:name: is, or type it`,
    start: $localize`Press where your days begin, or type it`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  protected readonly sayMinute = sayMinute;
  protected readonly detours = detours;

  readonly on = input<string>();
  readonly who = input<string>();
  readonly from = input<End>();
  readonly to = input<End>();

  protected readonly date = computed(() => this.on() ?? this.user.today());
  protected readonly title = computed(() => sayDate(this.date(), this.user.today()));
  protected readonly read = reading((query: CallOf<'fieldDay'>['query']) =>
    this.api.call('fieldDay', { query }),
  );
  protected readonly day = this.read.value;
  /** One's own order, while the stops are the same; the best one else. */
  protected readonly order = linkedSignal<FieldDay | null, readonly string[]>({
    source: this.day,
    computation: (day, before) => {
      const best = day?.best ?? [];
      const own = before?.value ?? [];
      const isSame =
        before?.source?.on === day?.on &&
        own.length === best.length &&
        best.every((key) => own.includes(key));
      return isSame ? own : best;
    },
  });
  protected readonly chosen = signal<string | null>(null);
  protected readonly within = signal<number>(10);
  protected readonly placing = signal<Placing | null>(null);
  protected readonly typed = signal('');
  protected readonly isSending = signal(false);

  protected readonly start = computed(() => this.endOf(this.from()));
  protected readonly end = computed(() => this.endOf(this.to()));
  private readonly outing = computed((): Outing | null => {
    const day = this.day();
    if (day === null) return null;
    const { stops, roads, busy, hours } = day;
    return {
      from: this.start(),
      to: this.end(),
      stops: stops.map((stop) => ({ ...stop, point: stop.address?.known?.point ?? null })),
      roads,
      leavesAt: hours?.from ?? 540,
      busy,
    };
  });
  private readonly trip = computed(() => {
    const outing = this.outing();
    return outing && tripOf(outing);
  });
  protected readonly course = computed(() => this.courseIn(this.order()));
  private readonly best = computed(() => this.courseIn(this.day()?.best ?? []));
  /** What one's own order costs more than the best: minutes of driving, promises and doors. */
  protected readonly costs = computed(() => {
    const [own, best] = [this.course(), this.best()];
    if (own === null || best === null) return null;
    const missed = (course: Course) =>
      course.visits.filter(({ late, closed }) => late > 0 || closed > 0).length;
    return {
      isOwn: this.order().join() !== (this.day()?.best ?? []).join(),
      driving: own.driving - best.driving,
      missed: missed(own) - missed(best),
    };
  });
  /** The stops in their order, as the day comes to them. */
  protected readonly rows = computed(() => {
    const course = this.course();
    const stops = new Map((this.day()?.stops ?? []).map((stop) => [stop.key, stop]));
    return (course?.visits ?? []).map((visit, at) => ({
      ...visit,
      rank: at + 1,
      stop: stops.get(visit.key)!,
    }));
  });
  /** Whom one could see on the way, the most worth for each further minute first. */
  protected readonly near = computed((): readonly Near[] => {
    const [day, trip, outing] = [this.day(), this.trip(), this.outing()];
    if (day === null || trip === null || outing === null) return [];
    const places = placesOf(outing);
    const order = this.places(this.order());
    return day.near
      .map((each) => {
        const ways = places.map((place) => minutesBetweenPlaces(place, each.point, day.roads));
        return { ...each, detour: detourOf(trip, order, { to: ways, from: ways }).minutes };
      })
      .filter(({ detour }) => detour <= this.within())
      .sort((a, b) => worth(b) - worth(a))
      .slice(0, nearShown);
  });
  protected readonly marks = computed((): readonly Mark[] => [
    ...this.rows().flatMap(({ stop, rank }) => {
      const point = stop.address?.known?.point;
      return point
        ? [{ key: stop.key, point, rank, name: stop.name, isChosen: stop.key === this.chosen() }]
        : [];
    }),
    ...this.near().map(({ key, point, name }) => ({
      ...{ key, point, name, rank: null },
      isChosen: key === this.chosen(),
    })),
  ]);
  protected readonly ends = computed((): readonly Option<End>[] => {
    const { home = null, office = null } = this.day() ?? {};
    return [
      {
        value: 'home',
        words: home ? $localize`home, ${home.words}:words:` : $localize`home`,
        isOff: home === null,
      },
      {
        value: 'office',
        words: office ? $localize`the office, ${office.words}:words:` : $localize`the office`,
        isOff: office === null,
      },
    ];
  });
  /** What a field shows that was not chosen yet. */
  protected readonly usualEnd = computed((): End | null =>
    this.day()?.home ? 'home' : this.day()?.office ? 'office' : null,
  );
  /** Visits that have no time yet, or stand at another: what the calendar would get. */
  protected readonly timed = computed(() =>
    this.rows().filter(({ stop, begins }) => stop.taskId !== null && stop.promisedAt !== begins),
  );
  protected readonly isMine = computed(() => this.who() === undefined);

  constructor() {
    effect(() => {
      const query = { on: this.date(), owner: this.who() as never, from: this.from(), to: this.to() };
      untracked(() => this.read.read(query));
    });
    inject(ChangeStream)
      .mine('task', 'appointment', 'company', 'user', 'setting')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
    inject(Keys).bind(
      { keys: 'ArrowLeft', words: this.texts.previous, act: () => this.step(-1) },
      { keys: 'ArrowRight', words: this.texts.next, act: () => this.step(1) },
      { keys: 'ArrowDown', words: $localize`Next visit`, act: () => this.choose(1) },
      { keys: 'ArrowUp', words: $localize`Visit before`, act: () => this.choose(-1) },
      { keys: 'Alt+ArrowDown', words: $localize`Visit later`, act: () => this.nudge(1) },
      { keys: 'Alt+ArrowUp', words: $localize`Visit earlier`, act: () => this.nudge(-1) },
      { keys: 'b', words: $localize`The best order`, act: () => this.takeBest() },
    );
  }

  protected step(by: number): void {
    this.selected.setQuery({ on: addDays(this.date(), by) });
  }

  protected move(from: number, to: number): void {
    if (to < 0 || to >= this.order().length || from === to) return;
    this.order.set(moved(this.order(), from, to));
  }

  protected takeBest(): void {
    this.order.set(this.day()?.best ?? []);
  }

  private choose(by: number): void {
    const keys = this.order();
    const at = keys.indexOf(this.chosen() ?? '');
    this.chosen.set(keys[Math.max(0, Math.min(keys.length - 1, at + by))] ?? null);
  }

  private nudge(by: number): void {
    const at = this.order().indexOf(this.chosen() ?? '');
    if (at >= 0) this.move(at, at + by);
  }

  protected open(stop: FieldStop): void {
    this.chosen.set(stop.key);
    if (stop.contactId !== null) this.selected.open({ kind: 'contact', id: stop.contactId });
  }

  /** The times of the course go into the calendar: every visit is promised for its time, with its way. */
  protected async putInCalendar(): Promise<void> {
    const [day, course] = [this.day(), this.course()];
    if (day === null || course === null) return;
    const rows = this.rows();
    const back = course.ends - (rows.at(-1)?.leaves ?? course.ends);
    const visits = rows.flatMap(({ stop, begins, travel }, at) =>
      stop.taskId === null || stop.taskVersion === null
        ? []
        : [
            {
              ...{ taskId: stop.taskId, version: stop.taskVersion, startMinute: begins },
              ...{ travelMinutes: travel, travelAfterMinutes: at === rows.length - 1 ? back : 0 },
            },
          ],
    );
    await this.change(
      (changeId) => this.api.call('planFieldDay', { body: { on: day.on, visits } }, changeId),
      $localize`The visits stand in the calendar at these times.`,
    );
  }

  /** One more visit on the day. */
  protected async addVisit({ contactId, reason, minutes, name }: Near): Promise<void> {
    const body = {
      ...{ channel: 'visit' as const, purpose: reason.slice(0, 200), minutes, dueOn: this.date() },
      ...{ contactId, dealId: null, promisedMinute: null },
    };
    await this.change(
      (changeId) => this.api.call('createTask', { body }, changeId),
      $localize`${name}:name: is visited on the way.`,
    );
  }

  protected startPlacing(placing: Placing): void {
    this.typed.set('');
    this.placing.set(placing);
  }

  /** A postcode or degrees, as they are typed. */
  protected async placeTyped(): Promise<void> {
    const text = this.typed().trim();
    const point = readPoint(text);
    if (point === null)
      this.notices.say(
        $localize`“${text}:text:” is no postcode that is known here. Press it on the map, or type degrees such as 54.02, -5.31.`,
      );
    else await this.place(point, text);
  }

  protected async place(point: Point, words = `${point.latitude}, ${point.longitude}`): Promise<void> {
    const placing = this.placing();
    if (placing?.kind === 'start') {
      const body = { start: { ...point, words } };
      await this.change(
        (changeId) => this.api.call('changeMyStart', { body }, changeId),
        $localize`Your days on the road begin there.`,
      );
    } else if (placing?.stop.address) {
      const { companyId, siteId } = placing.stop.address;
      await this.change(
        (changeId) => this.api.call('locateSite', { body: { companyId, siteId, point } }, changeId),
        $localize`${placing.stop.name}:name: is on the map.`,
      );
    }
    this.placing.set(null);
  }

  protected print(): void {
    window.print();
  }

  private async change(call: (changeId: string) => Observable<unknown>, words: string): Promise<void> {
    const changeId = v7();
    this.isSending.set(true);
    try {
      await firstValueFrom(call(changeId));
      this.undo.offer(words, changeId, () => this.read.again());
    } catch (error) {
      this.notices.problem(error);
    }
    this.isSending.set(false);
    this.read.again();
  }

  private endOf(asked: End | undefined): Point | null {
    const day = this.day();
    if (day === null) return null;
    return asked === undefined ? (day.home ?? day.office) : day[asked];
  }

  private places(order: readonly string[]): number[] {
    const at = new Map((this.day()?.stops ?? []).map(({ key }, index) => [key, index]));
    return order.flatMap((key) => at.get(key) ?? []);
  }

  private courseIn(order: readonly string[]): Course | null {
    const trip = this.trip();
    return trip && courseOf(trip, this.places(order));
  }
}

const worth = ({ costMinor, detour, minutes }: Near) => costMinor / (detour + minutes);
