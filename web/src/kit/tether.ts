import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { TetherFacts } from '@kettle/contract';
import { sayTether, tetherMarks } from '@kettle/core/tether';
import { daysBetween } from '@kettle/core/time';
import { CurrentUser } from '../services/current-user';

const width = 120;
const height = 16;
const margin = 7;

/** The strip drawn for every person and deal: last touch to the left, today in the middle, next step to the right. */
@Component({
  selector: 'kettle-tether',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="box" role="img" [attr.aria-label]="words()" [attr.data-state]="marks().state">
      <title>{{ words() }}</title>
      <line class="axis" [attr.x1]="0" [attr.x2]="marks().nextStep === null ? middle : width" y1="8" y2="8" />
      @if (marks().nextStep === null) {
        <line class="gap" [attr.x1]="middle + 3" [attr.x2]="width" y1="8" y2="8" />
      }
      <line class="tick" [attr.x1]="middle" [attr.x2]="middle" y1="2.5" y2="13.5" />
      @if (marks().nextStep !== null) {
        <path class="step" [attr.d]="diamond(marks().nextStep!)" />
      }
      @if (marks().lastTouch !== null) {
        <circle class="touch" [attr.cx]="x(marks().lastTouch!)" cy="8" r="3" />
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      inline-size: 120px;
      block-size: 16px;
      flex: none;
    }
    svg {
      display: block;
      inline-size: 100%;
      block-size: 100%;
      overflow: visible;
    }
    .axis {
      stroke: var(--hairline);
      stroke-width: 1.5;
    }
    .gap {
      stroke: var(--dashed);
      stroke-width: 1.5;
      stroke-dasharray: 3 3;
    }
    .tick {
      stroke: var(--text);
      stroke-width: 1.5;
    }
    .touch {
      fill: var(--passive);
    }
    .step {
      stroke-width: 1.6;
      fill: var(--page);
    }
    [data-state='late'] .step {
      fill: var(--accent);
      stroke: var(--accent);
    }
    [data-state='today'] .step {
      stroke: var(--accent);
    }
    [data-state='held'] .step {
      stroke: var(--link);
    }
  `,
})
export class Tether {
  private readonly user = inject(CurrentUser);
  readonly facts = input.required<TetherFacts>();
  /** The reader's calendar day. */
  readonly today = input.required<string>();

  protected readonly width = width;
  protected readonly middle = width / 2;
  protected readonly box = `0 0 ${width} ${height}`;

  protected readonly marks = computed(() => {
    const { lastTouchAt, nextStepOn } = this.facts();
    return tetherMarks(
      lastTouchAt === null ? null : daysBetween(lastTouchAt.slice(0, 10), this.today()),
      nextStepOn === null ? null : daysBetween(this.today(), nextStepOn),
    );
  });

  protected readonly words = computed(() => {
    const { lastTouchAt, lastTouchKind, lastTouchCounts, nextStepOn, nextStepChannel, nextStepAt } =
      this.facts();
    return sayTether({
      lastTouchOn: lastTouchAt?.slice(0, 10) ?? null,
      lastTouchBy: lastTouchKind,
      isConversation: lastTouchCounts !== 'attempt',
      nextStepOn,
      nextStepBy: nextStepChannel,
      nextStepTime: nextStepAt === null ? undefined : this.user.timeOf(nextStepAt),
      today: this.today(),
    });
  });

  protected x(position: number): number {
    return margin + position * (width - 2 * margin);
  }

  /** A touch and a step on one day: the diamond is wide enough to show the dot inside it. */
  protected diamond(position: number): string {
    const x = this.x(position);
    const touch = this.marks().lastTouch;
    const r = touch !== null && Math.abs(this.x(touch) - x) < 6 ? 7 : 5;
    return `M${x} ${8 - r} L${x + r} 8 L${x} ${8 + r} L${x - r} 8 Z`;
  }
}
