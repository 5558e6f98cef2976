import { CdkDrag, type CdkDragEnd } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
  viewChildren,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { Calendar, CalendarEntry } from '@kettle/contract';
import { addDays, isoWeekday, minutesBetween, sayDate, sayIsoWeekday } from '@kettle/core/time';
import { Pick } from '../../kit/pick';
import { CurrentUser } from '../../services/current-user';
import type { MovedEntry, PickedTime } from './day-grid';
import { DragClick } from './drag-click';
import { EntryWords } from './entry-words';
import { movedByKey, type NudgedEntry } from './moved-by-key';
import { countsOf, tasksOf } from './tasks-of';

/** So many entries of a day are shown; the rest is a press away. */
const mostShown = 3;
const usualMinute = 600;

/** The weeks of a month; an entry is dragged to another day, or moved by Alt and the arrow keys, and keeps its time. */
@Component({
  selector: 'kettle-month-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, MatButtonModule, Pick, RouterLink],
  templateUrl: './month-grid.html',
  styleUrl: './month-grid.scss',
})
export class MonthGrid {
  protected readonly texts = {
    planOn: (day: string) => $localize`Plan something: ${day}:day:`,
    more: (count: number) => $localize`${count}:count: more`,
  };

  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(EntryWords);
  private readonly cells = viewChildren<ElementRef<HTMLElement>>('cell');
  readonly days = input.required<Calendar['days']>();
  readonly entries = input.required<readonly CalendarEntry[]>();
  /** `2026-12`: days of other months stand back. */
  readonly month = input.required<string>();
  readonly opened = output<CalendarEntry>();
  readonly picked = output<PickedTime>();
  readonly moved = output<MovedEntry>();
  readonly nudged = output<NudgedEntry>();
  readonly dayOpened = output<string>();

  private readonly dragClick = new DragClick();
  /** Within which an entry is dragged. */
  protected readonly bounds = '.month';
  protected readonly tasksOf = tasksOf;
  protected readonly counts = countsOf;
  protected readonly weekdays = computed(() =>
    this.days()
      .slice(0, 7)
      .map(({ on }) => sayIsoWeekday(isoWeekday(on), 'short')),
  );
  protected readonly drawn = computed(() => {
    const byDay = new Map<string, CalendarEntry[]>();
    for (const entry of this.entries()) {
      const last = this.user.dateOf(entry.endsAt);
      // What ends at midnight is not of the next day.
      for (let on = this.user.dateOf(entry.startsAt); on <= last; on = addDays(on, 1))
        if (on === this.user.dateOf(entry.startsAt) || this.user.minuteOf(entry.endsAt) > 0 || on < last)
          byDay.set(on, [...(byDay.get(on) ?? []), entry]);
    }
    return this.days().map((day) => {
      const all = byDay.get(day.on) ?? [];
      const shown = all.length > mostShown ? all.slice(0, mostShown - 1) : all;
      const words = sayDate(day.on, this.user.today());
      return {
        day,
        words,
        shown,
        more: all.length - shown.length,
        isOther: !day.on.startsWith(this.month()),
      };
    });
  });

  protected dayOf(on: string): number {
    return Number(on.slice(8));
  }

  protected pickDay(on: string): void {
    this.picked.emit({ on, minute: usualMinute, personId: null });
  }

  protected drop({ source, dropPoint }: CdkDragEnd, entry: CalendarEntry, from: string): void {
    source.reset();
    this.dragClick.letGo();
    const at = this.cells().findIndex(({ nativeElement }) => {
      const { left, right, top, bottom } = nativeElement.getBoundingClientRect();
      return dropPoint.x >= left && dropPoint.x < right && dropPoint.y >= top && dropPoint.y < bottom;
    });
    const on = this.days()[at]?.on;
    if (on !== undefined && on !== from) this.move(entry, on);
  }

  protected open(entry: CalendarEntry): void {
    if (this.dragClick.isPress()) this.opened.emit(entry);
  }

  protected onKey(event: KeyboardEvent, entry: CalendarEntry): void {
    const by = movedByKey(event, 7);
    if (by === null || !entry.mayChange || this.words.isOver(entry)) return;
    event.preventDefault();
    event.stopPropagation();
    this.nudged.emit({ entry, by });
  }

  private move(entry: CalendarEntry, on: string): void {
    const minutes = minutesBetween(entry.startsAt, entry.endsAt);
    this.moved.emit({ entry, on, minute: this.user.minuteOf(entry.startsAt), minutes });
  }
}
