import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { CadenceDefinition, Channel } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';

const lineGap = 34;
const dayGap = 46;
const left = 76;
const top = 34;
const order: readonly Channel[] = ['call', 'email', 'text', 'meeting', 'visit', 'other'];

/** A cadence drawn as a stave: channels as lines, working days as the axis, steps as notes on it. */
@Component({
  selector: 'kettle-stave',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (drawing(); as it) {
      <svg
        [attr.width]="it.width"
        [attr.height]="it.height"
        [attr.viewBox]="'0 0 ' + it.width + ' ' + it.height"
        role="img"
        [attr.aria-label]="it.words"
      >
        @for (day of it.days; track day.n) {
          <line class="day" [attr.x1]="day.x" [attr.x2]="day.x" y1="22" [attr.y2]="it.height - 10" />
          <text class="number" [attr.x]="day.x" y="14">{{ day.n }}</text>
        }
        @for (line of it.lines; track line.name) {
          <line
            class="channel"
            [attr.x1]="left - 8"
            [attr.x2]="it.width - 8"
            [attr.y1]="line.y"
            [attr.y2]="line.y"
          />
          <text x="0" [attr.y]="line.y + 4">{{ line.name }}</text>
        }
        <polyline class="path" [attr.points]="it.path" />
        @for (note of it.notes; track note.n) {
          <circle [attr.cx]="note.x" [attr.cy]="note.y" r="11" />
          <text class="note" [attr.x]="note.x" [attr.y]="note.y + 4">{{ note.n }}</text>
        }
      </svg>
    }
  `,
  styles: `
    :host {
      display: block;
      overflow-x: auto;
    }
    text {
      fill: var(--text);
      font-size: 12px;
    }
    .number {
      fill: var(--text-soft);
      text-anchor: middle;
    }
    .note {
      fill: var(--link);
      font-weight: 650;
      text-anchor: middle;
    }
    .day {
      stroke: var(--hairline);
      opacity: 0.6;
    }
    .channel {
      stroke: var(--dashed);
      opacity: 0.6;
    }
    .path {
      fill: none;
      stroke: var(--link);
      opacity: 0.45;
    }
    circle {
      fill: var(--sheet);
      stroke: var(--link);
      stroke-width: 1.8;
    }
  `,
})
export class Stave {
  readonly definition = input.required<CadenceDefinition>();
  protected readonly left = left;

  protected readonly drawing = computed(() => {
    const { steps } = this.definition();
    const used = order.filter((channel) => steps.some((step) => step.channel === channel));
    let day = 0;
    const notes = steps.map((step, index) => {
      day += step.offsetDays;
      return {
        n: index + 1,
        day,
        x: left + day * dayGap,
        y: top + used.indexOf(step.channel) * lineGap,
        channel: step.channel,
      };
    });
    const lastDay = notes.at(-1)?.day ?? 0;
    return {
      width: left + (lastDay + 1) * dayGap,
      height: top + used.length * lineGap - 4,
      days: Array.from({ length: lastDay + 1 }, (_, n) => ({ n, x: left + n * dayGap })),
      lines: used.map((channel, index) => ({
        name: channelLabel[channel].toLowerCase(),
        y: top + index * lineGap,
      })),
      notes,
      path: notes.map((note) => `${note.x},${note.y}`).join(' '),
      words: notes
        .map(
          (note) => `step ${note.n}: ${channelLabel[note.channel].toLowerCase()} on working day ${note.day}`,
        )
        .join('; '),
    };
  });
}
