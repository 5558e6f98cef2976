import { CdkDrag, type CdkDragEnd } from '@angular/cdk/drag-drop';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
  signal,
  viewChildren,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { Calendar, CalendarEntry, UserId } from '@kettle/contract';
import { hoursShown, layOutDay, type Placed } from '@kettle/core/calendar';
import { sayHour } from '@kettle/core/time';
import { Pick } from '../../kit/pick';
import { CurrentUser } from '../../services/current-user';
import { DragClick } from './drag-click';
import { EntryWords } from './entry-words';
import { movedByKey, type NudgedEntry } from './moved-by-key';
import { countsOf, tasksOf } from './tasks-of';

/** One column: a day of somebody, or somebody's day among those of the team. */
export interface GridColumn {
  readonly key: string;
  readonly day: Calendar['days'][number];
  readonly title: string;
  readonly personId: UserId | null;
  readonly entries: readonly CalendarEntry[];
}

export interface PickedTime {
  readonly on: string;
  readonly minute: number;
  readonly personId: UserId | null;
}

/** Where an entry was moved: a day and a minute of the reader's clock, and how long it takes from now on. */
export interface MovedEntry {
  readonly entry: CalendarEntry;
  readonly on: string;
  readonly minute: number;
  readonly minutes: number;
}

const quarter = 15;
const toQuarter = (minute: number) => Math.round(minute / quarter) * quarter;

/** Hours from top to bottom, days or people side by side. An entry is dragged, pulled longer at its foot, or moved by Alt and the arrow keys. */
@Component({
  selector: 'kettle-day-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, Pick, RouterLink],
  templateUrl: './day-grid.html',
  styleUrl: './day-grid.scss',
})
export class DayGrid {
  protected readonly texts = {
    planOn: (column: string) => $localize`Plan something: ${column}:column:`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(EntryWords);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly cells = viewChildren<ElementRef<HTMLElement>>('cell');
  readonly columns = input.required<readonly GridColumn[]>();
  readonly opened = output<CalendarEntry>();
  readonly picked = output<PickedTime>();
  readonly moved = output<MovedEntry>();
  readonly nudged = output<NudgedEntry>();

  private readonly dragClick = new DragClick();
  /** Within which an entry is dragged. */
  protected readonly bounds = '.grid';
  protected readonly sayHour = sayHour;
  protected readonly tasksOf = tasksOf;
  protected readonly counts = countsOf;
  /** The entry that is pulled longer, and how long it is by now. */
  protected readonly pulled = signal<{ readonly id: string; readonly minutes: number } | null>(null);
  /** What the hand is on stays focused when it moves to another column. */
  private readonly focused = signal<string | null>(null);

  protected readonly drawn = computed(() =>
    this.columns().map((column) => ({
      ...column,
      placed: layOutDay(column.entries, column.day.on, this.user.zone()),
    })),
  );
  protected readonly hours = computed(() => {
    const { start, end } = this.user.person()?.hours ?? { start: 540, end: 1050 };
    return hoursShown(
      { start, end },
      this.drawn().flatMap(({ placed }) => placed),
    );
  });
  protected readonly marks = computed(() => {
    const { from, to } = this.hours();
    return Array.from({ length: to - from }, (_, index) => from + index);
  });
  protected readonly now = computed(() => {
    const minute = this.user.minuteOf(this.user.now());
    const { from, to } = this.hours();
    return minute >= from * 60 && minute <= to * 60 ? this.share(minute) : null;
  });

  constructor() {
    afterRenderEffect(() => {
      this.drawn();
      const id = this.focused();
      if (id === null) return;
      const button = this.host.nativeElement.querySelector<HTMLElement>(`[data-entry="${id}"] .body`);
      if (button !== null && document.activeElement === document.body) button.focus();
    });
  }

  /** How far down a minute of the day is, in per cent. */
  protected share(minute: number): number {
    const { from, to } = this.hours();
    return ((minute - from * 60) / ((to - from) * 60)) * 100;
  }

  protected size(placed: Placed<CalendarEntry>): number {
    const pulled = this.pulled();
    const to = pulled?.id === placed.entry.id ? placed.from + pulled.minutes : placed.to;
    return this.share(to) - this.share(placed.from);
  }

  /** A press on free time plans something there; one by a key, at the beginning of the day's work. */
  protected pickTime(event: MouseEvent, { day, personId }: GridColumn): void {
    const cell = event.currentTarget as HTMLElement;
    const half = 2 * quarter;
    const minute =
      event.detail === 0
        ? (this.user.person()?.hours.start ?? 540)
        : Math.floor(this.minuteAt(event.clientY, cell) / half) * half;
    this.picked.emit({ on: day.on, minute, personId });
  }

  protected drop(
    { source, dropPoint, distance }: CdkDragEnd,
    placed: Placed<CalendarEntry>,
    column: GridColumn,
  ): void {
    source.reset();
    this.dragClick.letGo();
    const cells = this.cells().map(({ nativeElement }) => nativeElement);
    const at = cells.findIndex((cell) => {
      const { left, right } = cell.getBoundingClientRect();
      return dropPoint.x >= left && dropPoint.x < right;
    });
    const cell = cells[at];
    const target = this.columns()[at];
    if (cell === undefined || target === undefined) return;
    const minute = toQuarter(placed.from + distance.y / this.pixelsPerMinute(cell));
    // Whose it is is not changed by a hand that slips.
    const on = column.personId === null ? target.day.on : column.day.on;
    if (on === column.day.on && minute === placed.from) return;
    this.moved.emit({
      entry: placed.entry,
      on,
      minute: within(minute),
      minutes: this.lengthOf(placed.entry),
    });
  }

  protected open(entry: CalendarEntry): void {
    if (this.dragClick.isPress()) this.opened.emit(entry);
  }

  protected onKey(event: KeyboardEvent, { entry }: Placed<CalendarEntry>, { personId }: GridColumn): void {
    const by = movedByKey(event);
    if (by === null || !entry.mayChange || this.words.isOver(entry)) return;
    event.preventDefault();
    event.stopPropagation();
    this.focused.set(entry.id);
    // Among people side by side there is one day.
    this.nudged.emit({ entry, by: personId === null ? by : { ...by, days: 0 } });
  }

  /** Pulls the foot of an entry: shown while it is pulled, told when it is let go of. */
  protected pull(event: PointerEvent, placed: Placed<CalendarEntry>): void {
    event.stopPropagation();
    event.preventDefault();
    const grip = event.target as HTMLElement;
    const perMinute = this.pixelsPerMinute(this.cells()[0]!.nativeElement);
    const length = this.lengthOf(placed.entry);
    const lengthAt = ({ clientY }: PointerEvent) =>
      Math.max(quarter, toQuarter(length + (clientY - event.clientY) / perMinute));
    grip.setPointerCapture(event.pointerId);
    const draw = (moved: PointerEvent) => this.pulled.set({ id: placed.entry.id, minutes: lengthAt(moved) });
    const end = (last: PointerEvent) => {
      grip.removeEventListener('pointermove', draw);
      this.pulled.set(null);
      const minutes = lengthAt(last);
      if (last.type === 'pointerup' && minutes !== length)
        this.moved.emit({
          entry: placed.entry,
          on: this.user.dateOf(placed.entry.startsAt),
          minute: placed.from,
          minutes,
        });
    };
    grip.addEventListener('pointermove', draw);
    grip.addEventListener('pointerup', end, { once: true });
    grip.addEventListener('pointercancel', end, { once: true });
  }

  private lengthOf({ startsAt, endsAt }: CalendarEntry): number {
    return Math.round((Date.parse(endsAt) - Date.parse(startsAt)) / 60_000);
  }

  private pixelsPerMinute(cell: HTMLElement): number {
    const { from, to } = this.hours();
    return cell.getBoundingClientRect().height / ((to - from) * 60);
  }

  private minuteAt(y: number, cell: HTMLElement): number {
    return this.hours().from * 60 + (y - cell.getBoundingClientRect().top) / this.pixelsPerMinute(cell);
  }
}

/** A beginning inside the day. */
const within = (minute: number) => Math.min(1440 - quarter, Math.max(0, minute));
