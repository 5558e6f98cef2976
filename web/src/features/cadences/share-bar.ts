import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

interface Share {
  readonly part: number;
  readonly whole: number;
  readonly rate: number;
  readonly low: number;
  readonly high: number;
}

const width = 120;

/** A share as a dot with the interval it may lie in at 95 %, on a line from nothing to the greatest shown. */
@Component({
  selector: 'kettle-share-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.width]="width" height="12" role="img" [attr.aria-label]="words()">
      <line class="all" x1="0" [attr.x2]="width" y1="6" y2="6" />
      <line class="reach" [attr.x1]="at(share().low)" [attr.x2]="at(share().high)" y1="6" y2="6" />
      <circle [attr.cx]="at(share().rate)" cy="6" r="4" />
    </svg>
  `,
  styles: `
    .all {
      stroke: var(--hairline);
    }
    .reach {
      stroke: var(--link);
      stroke-width: 3;
      opacity: 0.45;
    }
    circle {
      fill: var(--link);
    }
  `,
})
export class ShareBar {
  readonly share = input.required<Share>();
  /** The rate at the right end. */
  readonly most = input(1);

  protected readonly width = width;
  protected readonly words = computed(() => {
    const { part, whole, low, high } = this.share();
    return $localize`${part}:part: of ${whole}:whole:, between ${percent(low)}:low: and ${percent(high)}:high:`;
  });

  protected at(rate: number): number {
    return Math.min(width, (rate / this.most()) * width);
  }
}

export const percent = (rate: number) => `${Math.round(rate * 100)} %`;
