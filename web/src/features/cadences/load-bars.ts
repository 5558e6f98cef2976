import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { StartPlan } from '@kettle/contract';
import { sayShortDay } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';

const step = 31;
const height = 74;
const left = 56;

/** The coming four weeks as bars of minutes a day, what is added on top, and the line of what a day can hold. */
@Component({
  selector: 'kettle-load-bars',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (drawing(); as it) {
      <svg [attr.width]="it.width" height="130" role="img" [attr.aria-label]="it.words">
        <text i18n x="0" [attr.y]="height + 12">minutes</text>
        @for (bar of it.bars; track bar.on) {
          <g>
            <title>{{ bar.words }}</title>
            <rect class="now-there" [attr.x]="bar.x" [attr.y]="bar.y" width="20" [attr.height]="bar.height" />
            <rect class="added" [attr.x]="bar.x" [attr.y]="bar.addedY" width="20" [attr.height]="bar.added" />
          </g>
          @if (bar.label) {
            <text [attr.x]="bar.x" [attr.y]="height + 30">{{ bar.label }}</text>
          }
        }
        <polyline class="limit" [attr.points]="it.limit" />
        <text i18n class="limit-words" [attr.x]="it.width" [attr.y]="it.limitY - 4">
          {{ it.capacity }} free min
        </text>
      </svg>
    }
  `,
  styles: `
    :host {
      display: block;
      overflow-x: auto;
    }
    text {
      fill: var(--text-soft);
      font-size: 11px;
    }
    .now-there {
      fill: color-mix(in srgb, var(--text-soft) 40%, transparent);
    }
    .added {
      fill: var(--link);
    }
    .limit {
      fill: none;
      stroke: var(--text);
      stroke-dasharray: 4 3;
    }
    .limit-words {
      fill: var(--accent);
      text-anchor: end;
    }
  `,
})
export class LoadBars {
  private readonly user = inject(CurrentUser);
  readonly load = input.required<StartPlan['load']>();

  protected readonly height = height + 14;
  protected readonly left = left;
  protected readonly drawing = computed(() => {
    const days = this.load();
    const capacity = days.at(-1)?.capacity ?? 0;
    const most = Math.max(1, ...days.map((day) => day.capacity), ...days.map(({ withThem }) => withThem));
    const size = (minutes: number) => (minutes / most) * height;
    const floor = height + 14;
    const bars = days.map(({ on, minutes, withThem }, index) => ({
      on,
      x: left + index * step,
      y: floor - size(minutes),
      height: size(minutes),
      added: size(Math.max(0, withThem - minutes)),
      addedY: floor - size(withThem),
      label: index % 5 === 0 ? sayShortDay(on, this.user.today()) : '',
      words: $localize`${sayShortDay(on, this.user.today())}:on:: ${Math.round(minutes)}:minutes: minutes, ${Math.round(withThem)}:withThem: with them`,
    }));
    const peak = Math.max(0, ...days.map(({ withThem }) => withThem));
    return {
      bars,
      width: left + days.length * step,
      limit: days
        .map((day, index) => {
          const y = floor - size(day.capacity);
          return `${bars[index]!.x - 5},${y} ${bars[index]!.x + 25},${y}`;
        })
        .join(' '),
      limitY: floor - size(capacity),
      capacity,
      words: $localize`Load of the next four weeks: at most ${Math.round(peak)}:peak: minutes a day of ${capacity}:capacity:`,
    };
  });
}
