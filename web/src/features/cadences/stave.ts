import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { CadenceStep, Channel, PlannedMoment } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { channelNames } from '@kettle/contract/base/channels';
import { daysOfSteps } from '@kettle/core/cadences';
import { sayShortDay } from '@kettle/core/time';

const lineGap = 34;
const dayGap = 43;
const left = 78;
const top = 44;
const fewestDays = 14;

export interface Place {
  readonly day: number;
  readonly channel: Channel;
}

/**
 * A cadence drawn as a stave: channels as lines, working days as the axis, steps as notes on it; solid is done by hand,
 * dashed goes by itself. When it may be edited, notes are dragged, or moved with the arrow keys; a click on a line sets one.
 */
@Component({
  selector: 'kettle-stave',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (drawing(); as it) {
      <svg
        #sheet
        [attr.width]="it.width"
        [attr.height]="it.height"
        [attr.viewBox]="'0 0 ' + it.width + ' ' + it.height"
        [attr.role]="isEditable() ? 'group' : 'img'"
        [attr.aria-label]="it.words"
        (pointermove)="drag($event)"
        (pointerup)="drop($event)"
        (pointercancel)="dragged.set(null)"
      >
        @for (day of it.days; track day.n) {
          <line
            class="day"
            [class.week]="day.n % 5 === 0"
            [attr.x1]="day.x"
            [attr.x2]="day.x"
            y1="26"
            [attr.y2]="it.bottom"
          />
          <text class="number" [attr.x]="day.x" y="16">{{ day.n }}</text>
        }
        @for (line of it.lines; track line.channel) {
          <line
            class="channel"
            [attr.x1]="left - 8"
            [attr.x2]="it.width - 8"
            [attr.y1]="line.y"
            [attr.y2]="line.y"
          />
          <text x="2" [attr.y]="line.y + 4">{{ line.name }}</text>
          @if (isEditable()) {
            <rect
              class="room"
              [attr.x]="left - 20"
              [attr.y]="line.y - 18"
              [attr.width]="it.width - left + 12"
              height="36"
              (click)="set($event, line.channel)"
            />
          }
        }
        <polyline class="path" [attr.points]="it.path" />
        @for (note of it.notes; track note.n) {
          @if (isEditable()) {
            <g
              class="note"
              role="button"
              tabindex="0"
              [class.chosen]="note.n - 1 === chosen()"
              [class.alone]="note.isAlone"
              [attr.aria-label]="note.words"
              [attr.aria-pressed]="note.n - 1 === chosen()"
              (pointerdown)="take($event, note.n - 1)"
              (keydown)="onKey($event, note.n - 1)"
              (focus)="choose.emit(note.n - 1)"
            >
              <circle [attr.cx]="note.x" [attr.cy]="note.y" r="12" />
              <text [attr.x]="note.x" [attr.y]="note.y + 4">{{ note.n }}</text>
            </g>
          } @else {
            <g class="note" [class.alone]="note.isAlone">
              <circle [attr.cx]="note.x" [attr.cy]="note.y" r="12" />
              <text [attr.x]="note.x" [attr.y]="note.y + 4">{{ note.n }}</text>
            </g>
          }
        }
        @for (date of it.dates; track date.step) {
          <text class="date" [class.shifted]="date.isShifted" [attr.x]="date.x" [attr.y]="date.y">
            {{ date.words }}
          </text>
        }
      </svg>
    }
  `,
  styles: `
    :host {
      display: block;
      overflow-x: auto;
      background: var(--sheet);
      border-block: 1px solid var(--hairline);
    }
    svg {
      display: block;
      touch-action: pan-x;
      user-select: none;
    }
    text {
      fill: var(--text);
      font-size: 12px;
    }
    .number,
    .date {
      fill: var(--text-soft);
      text-anchor: middle;
    }
    .date {
      fill: var(--text);
    }
    .date.shifted {
      fill: var(--accent);
      font-weight: 600;
    }
    .note text {
      fill: var(--link);
      font-weight: 650;
      text-anchor: middle;
      pointer-events: none;
    }
    .day {
      stroke: var(--hairline);
      opacity: 0.6;
    }
    .day.week {
      opacity: 1;
    }
    .channel {
      stroke: var(--dashed);
      opacity: 0.6;
    }
    .room {
      fill: transparent;
      cursor: copy;
    }
    .path {
      fill: none;
      stroke: var(--link);
      opacity: 0.45;
      pointer-events: none;
    }
    circle {
      fill: var(--sheet);
      stroke: var(--link);
      stroke-width: 1.8;
    }
    .alone circle {
      stroke-dasharray: 3 3;
    }
    .note[role] {
      cursor: grab;
      outline: none;
    }
    .note[role]:focus-visible circle {
      stroke-width: 3.5;
    }
    .note.chosen circle {
      fill: var(--link);
    }
    .note.chosen text {
      fill: var(--on-link);
    }
  `,
})
export class Stave {
  readonly steps = input.required<readonly CadenceStep[]>();
  readonly isEditable = input(false);
  readonly chosen = input<number | null>(null);
  /** Real dates for somebody, drawn below. */
  readonly moments = input<readonly PlannedMoment[]>([]);
  readonly today = input('');

  readonly choose = output<number>();
  readonly move = output<{ readonly index: number; readonly to: Place }>();
  readonly add = output<Place>();
  readonly copied = output<number>();
  /** Dragged with Ctrl or Alt held: the step stays, and one like it stands where it was let go. */
  readonly copiedTo = output<{ readonly index: number; readonly to: Place }>();
  readonly remove = output<number>();

  protected readonly left = left;
  private readonly sheet = viewChild<ElementRef<SVGSVGElement>>('sheet');
  protected readonly dragged = signal<{ readonly index: number; readonly to: Place } | null>(null);

  protected readonly drawing = computed(() => {
    const steps = this.steps();
    const days = daysOfSteps(steps);
    const shown = this.isEditable()
      ? channelNames
      : channelNames.filter((channel) => steps.some((step) => step.channel === channel));
    const held = this.dragged();
    const notes = steps.map((step, index) => {
      const { day, channel } = held?.index === index ? held.to : { day: days[index]!, channel: step.channel };
      const how = step.mode === 'by-itself' ? $localize`goes by itself` : $localize`by hand`;
      return {
        n: index + 1,
        day,
        channel,
        isAlone: step.mode === 'by-itself',
        x: left + day * dayGap,
        y: top + shown.indexOf(channel) * lineGap,
        words: $localize`step ${index + 1}:index:: ${channelLabel[channel].toLowerCase()}:channelLabel: on working day ${day}:day:, ${how}:how:`,
      };
    });
    const lastDay = Math.max(...notes.map(({ day }) => day), this.isEditable() ? fewestDays : 0);
    const bottom = top + (shown.length - 1) * lineGap + 22;
    const dates = this.datesOf(notes, bottom);
    return {
      width: left + (lastDay + 1) * dayGap,
      // Where dates come a moment later their room is there already: nothing moves under the hand.
      height: bottom + (this.isEditable() || dates.length > 0 ? 38 : 4),
      bottom,
      days: Array.from({ length: lastDay + 1 }, (_, n) => ({ n, x: left + n * dayGap })),
      lines: shown.map((channel, index) => ({
        channel,
        name: channelLabel[channel].toLowerCase(),
        y: top + index * lineGap,
      })),
      notes,
      path: notes.map((note) => `${note.x},${note.y}`).join(' '),
      dates,
      words: notes.map((note) => note.words).join('; '),
    };
  });

  /** Dates stand under their notes, in two rows where they would run into one another. */
  private datesOf(notes: readonly { n: number; x: number }[], bottom: number) {
    let before = -100;
    let row = 1;
    return this.moments().map((moment) => {
      const x = notes[moment.step]?.x ?? left;
      row = x - before < 84 ? 1 - row : 0;
      before = x;
      const isPlanned = moment.kind === 'planned';
      return {
        step: moment.step,
        x,
        y: bottom + 16 + row * 15,
        words: isPlanned ? sayShortDay(moment.on, this.today()) : $localize`skipped`,
        isShifted: !isPlanned || moment.shifts.length > 0,
      };
    });
  }

  private placeAt(event: PointerEvent | MouseEvent): Place {
    const box = this.sheet()!.nativeElement.getBoundingClientRect();
    const day = Math.max(0, Math.round((event.clientX - box.left - left) / dayGap));
    const line = Math.round((event.clientY - box.top - top) / lineGap);
    return { day, channel: channelNames[Math.max(0, Math.min(channelNames.length - 1, line))]! };
  }

  protected take(event: PointerEvent, index: number): void {
    this.choose.emit(index);
    const { day, channel } = this.drawing().notes[index]!;
    this.dragged.set({ index, to: { day, channel } });
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    const held = this.dragged();
    if (held !== null) this.dragged.set({ ...held, to: this.placeAt(event) });
  }

  protected drop(event: PointerEvent): void {
    const held = this.dragged();
    this.dragged.set(null);
    if (held === null) return;
    const step = this.steps()[held.index]!;
    const isElsewhere =
      daysOfSteps(this.steps())[held.index] !== held.to.day || step.channel !== held.to.channel;
    if (!isElsewhere) return;
    if (event.ctrlKey || event.altKey) this.copiedTo.emit(held);
    else this.move.emit(held);
  }

  protected set(event: MouseEvent, channel: Channel): void {
    this.add.emit({ day: this.placeAt(event).day, channel });
  }

  protected onKey(event: KeyboardEvent, index: number): void {
    const day = daysOfSteps(this.steps())[index]!;
    const { channel } = this.steps()[index]!;
    const line = channelNames.indexOf(channel);
    const to = (place: Partial<Place>) => () => this.move.emit({ index, to: { day, channel, ...place } });
    const acts: Readonly<Record<string, (() => void) | undefined>> = {
      ArrowLeft: to({ day: day - 1 }),
      ArrowRight: to({ day: day + 1 }),
      ArrowUp: line > 0 ? to({ channel: channelNames[line - 1]! }) : undefined,
      ArrowDown: line < channelNames.length - 1 ? to({ channel: channelNames[line + 1]! }) : undefined,
      Delete: () => this.remove.emit(index),
      c: () => this.copied.emit(index),
    };
    const act = acts[event.key];
    if (!act || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  }
}
