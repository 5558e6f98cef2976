import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { DealRow } from '@kettle/contract';
import { mostNotches } from '@kettle/contract/base/notches';
import { completionOf, placeOf } from '@kettle/core/deals';
import { KeyHint } from '../../kit/key-hint';
import { CountPipe, SharePipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { DealWords } from './deal-words';
import { Notcher } from './notcher';

const stageWidth = 40;
const barHeight = 10;

/** How far a deal is: its stages as a bar, the notches cut into its lower edge, both as a share, and one press further. */
@Component({
  selector: 'kettle-deal-progress',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, KeyHint, CountPipe, SharePipe],
  template: `
    @if (progress(); as it) {
      <svg
        role="img"
        [attr.aria-label]="texts.bar(it.stagesDone + 1, it.stages)"
        [attr.viewBox]="'0 0 ' + it.width + ' ' + height"
        [attr.width]="it.width"
        [attr.height]="height"
      >
        <rect class="rest" x="0.5" y="0.5" [attr.width]="it.width - 1" [attr.height]="height - 1" />
        <rect class="done" x="0" y="0" [attr.width]="it.done" [attr.height]="height" />
        <rect
          class="now"
          [attr.x]="it.done"
          y="0"
          [attr.width]="it.reached - it.done"
          [attr.height]="height"
        />
        @for (x of it.borders; track x) {
          <line class="border" [attr.x1]="x" [attr.x2]="x" y1="0" [attr.y2]="height" />
        }
        @for (points of it.cuts; track points) {
          <polygon class="cut" [attr.points]="points" />
        }
      </svg>
      <span class="words">
        <b>{{ it.completion | share }}</b>
        <span class="soft">{{ it.notches | count: texts.notches }}</span>
      </span>
      @if (mayCut()) {
        <span class="acts">
          <button i18n matButton="outlined" type="button" (click)="notcher.cut(deal(), 1)" kettleKey="r">
            a notch further
          </button>
          <button
            i18n
            matButton
            type="button"
            [disabled]="it.notches === 0"
            (click)="notcher.cut(deal(), -1)"
          >
            back
          </button>
        </span>
      }
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2) var(--space-3);
      padding-block-end: var(--space-3);
    }
    .words {
      display: inline-flex;
      gap: var(--space-2);
      font-variant-numeric: tabular-nums;
    }
    .acts {
      display: inline-flex;
      flex-basis: 100%;
      gap: var(--space-2);
    }
    .rest {
      fill: none;
      stroke: var(--dashed);
    }
    .done {
      fill: var(--link);
    }
    .now {
      fill: var(--link-wash);
      stroke: var(--link);
    }
    .border {
      stroke: var(--sheet);
      stroke-width: 2;
    }
    .cut {
      fill: var(--sheet);
      stroke: var(--link);
    }
  `,
})
export class DealProgress {
  protected readonly texts = {
    notches: $localize`notch|notches`,
    bar: (stage: number, stages: number) => $localize`stage ${stage}:stage: of ${stages}:stages:`,
  };

  private readonly words = inject(DealWords);
  private readonly user = inject(CurrentUser);
  protected readonly notcher = inject(Notcher);
  protected readonly height = barHeight;
  readonly deal = input.required<DealRow>();
  protected readonly mayCut = computed(
    () => this.deal().status === 'open' && this.user.mayChangeDeal(this.deal()),
  );
  protected readonly progress = computed(() => {
    const { stageId, status } = this.deal();
    const pipeline = this.words.pipelineOf(stageId);
    if (pipeline === undefined) return null;
    const { stagesDone, stages } = placeOf(stageId, pipeline.stages);
    const notches = this.notcher.of(this.deal());
    const completion = completionOf({ status, stagesDone, stages, notches });
    const width = stages * stageWidth;
    const start = stagesDone * stageWidth;
    const at = (notch: number) => start + (notch * stageWidth) / (mostNotches + 1);
    return {
      ...{ stagesDone, stages, notches, completion, width },
      done: status === 'won' ? width : start,
      reached: status === 'won' ? width : at(notches),
      borders: Array.from({ length: stages - 1 }, (_, index) => (index + 1) * stageWidth),
      cuts:
        status === 'won'
          ? []
          : Array.from({ length: notches }, (_, index) => {
              const x = at(index + 1);
              return `${x - 3},${barHeight} ${x},${barHeight - 5} ${x + 3},${barHeight}`;
            }),
    };
  });

  constructor() {
    this.words.wake();
    const applies = () => this.mayCut();
    inject(Keys).bind(
      {
        keys: 'r',
        words: $localize`Cut a notch: the deal is further within its stage`,
        act: () => this.notcher.cut(this.deal(), 1),
        applies,
      },
      {
        keys: 'Shift+R',
        words: $localize`Take a notch back`,
        act: () => this.notcher.cut(this.deal(), -1),
        applies,
      },
    );
  }
}
