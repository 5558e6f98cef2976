import { BreakpointObserver } from '@angular/cdk/layout';
import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { Chart } from 'chart.js';
import { skip } from 'rxjs';
import { chartConfig, type ChartInk, type ChartKind, type ChartSeries } from './chart-config';
import { tableParts } from './table';

export type { ChartKind, ChartSeries } from './chart-config';

/** A value of a chart: of which series, at which label. */
export interface ChartPoint {
  readonly series: number;
  readonly at: number;
}

const inks = ['--link', '--accent', '--passive', '--dashed'];
/** Pixels of the tile a pattern is made of. */
const tile = 8;

/**
 * A chart in our inks, with patterns beside the colours and the same numbers as a table. By keyboard the arrows go from value to value, each
 * is told; Enter does what a press does. Chart.js comes with the first chart that is shown.
 * @example
 * <kettle-chart label="Answered by day" kind="steps" [labels]="days()" [series]="[{ name: 'answered', values: shares() }]" [say]="percent" />
 */
@Component({
  selector: 'kettle-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, tableParts],
  template: `
    <div class="frame" [style.block-size.px]="height()">
      <canvas
        #canvas
        tabindex="0"
        role="img"
        [attr.aria-label]="label() + (isAway() ? texts.away : texts.byKeys)"
        (keydown)="onKey($event)"
      ></canvas>
    </div>
    @if (series().length > 1) {
      <ul class="legend" aria-hidden="true">
        @for (each of series(); track each.name; let at = $index) {
          <li [class]="'of-' + (at % 4)">{{ each.name }}</li>
        }
      </ul>
    }
    <p class="told soft" role="status">{{ told() }}</p>
    @if (!isTold()) {
      <details>
        <summary i18n>Numbers</summary>
        <kettle-table [rows]="rows()" [label]="label()">
          <ng-template [kettleColumn]="rows()" [head]="labelHead()" let-row>{{ row.label }}</ng-template>
          @for (each of series(); track each.name; let of = $index) {
            <ng-template [kettleColumn]="rows()" [head]="each.name" isNumber let-row>
              @if (canPick() && row.values[of] !== null) {
                <button matButton type="button" (click)="picked.emit({ series: of, at: row.at })">
                  {{ sayOf(row.values[of]) }}
                </button>
              } @else {
                {{ sayOf(row.values[of]) }}
              }
            </ng-template>
          }
        </kettle-table>
      </details>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    .frame {
      position: relative;
      min-inline-size: 0;
    }
    canvas:focus-visible {
      outline: 2px solid var(--link);
      outline-offset: 2px;
    }
    .legend {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1) var(--space-4);
    }
    .legend li::before {
      content: '';
      display: inline-block;
      inline-size: 14px;
      block-size: 10px;
      margin-inline-end: 6px;
      border: 1px solid currentColor;
      color: var(--link);
      background: currentColor;
    }
    .legend .of-1::before {
      color: var(--accent);
      background: repeating-linear-gradient(45deg, currentColor 0 2px, transparent 2px 4px);
    }
    .legend .of-2::before {
      color: var(--passive);
      background: repeating-linear-gradient(90deg, currentColor 0 2px, transparent 2px 4px);
    }
    .legend .of-3::before {
      color: var(--dashed);
      background: none;
    }
    .told:empty {
      display: none;
    }
    summary {
      cursor: pointer;
      color: var(--link);
    }
  `,
})
export class ChartView {
  protected readonly texts = {
    byKeys: $localize`. The arrow keys read its values.`,
    away: $localize`. It could not be drawn; its numbers stand below.`,
  };

  readonly label = input.required<string>();
  readonly kind = input<ChartKind>('bars');
  readonly labels = input.required<readonly string[]>();
  readonly series = input.required<readonly ChartSeries[]>();
  /** The head of the labels in the table of numbers. */
  readonly labelHead = input.required<string>();
  readonly most = input<number | null>(null);
  readonly say = input<(value: number) => string>((value) => String(value));
  /** Pixels. */
  readonly height = input(180);
  /** The same numbers stand in a table beside it. */
  readonly isTold = input(false, { transform: booleanAttribute });
  /** Values can be pressed: `picked` says which. */
  readonly canPick = input(false, { transform: booleanAttribute });
  readonly picked = output<ChartPoint>();

  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly at = signal<ChartPoint | null>(null);
  /** Another look of the whole page: a chart reads its inks anew. */
  private readonly look = signal(0);
  private chart: Chart | undefined;
  /** Chart.js did not come: the numbers stand alone. */
  protected readonly isAway = signal(false);
  protected readonly rows = computed(() =>
    this.labels().map((label, at) => ({
      ...{ label, at },
      values: this.series().map(({ values }) => values[at] ?? null),
    })),
  );
  /** The value the keyboard is on. */
  protected readonly told = computed(() => {
    const at = this.at();
    const series = at && this.series()[at.series];
    if (!at || !series) return '';
    const name = this.series().length > 1 ? `${series.name}, ` : '';
    return `${name}${this.labelHead()} ${this.labels()[at.at] ?? ''}: ${this.sayOf(series.values[at.at] ?? null)}`;
  });

  constructor() {
    effect((onCleanup) => {
      const asked = {
        kind: this.kind(),
        labels: this.labels(),
        series: this.series(),
        most: this.most(),
        say: this.say(),
      };
      this.look();
      let isOver = false;
      onCleanup(() => (isOver = true));
      import('./chart-parts').then(
        (parts) => {
          if (isOver) return;
          this.chart?.destroy();
          const canvas = this.canvas().nativeElement;
          const config = chartConfig(asked, inkOf(canvas), (series, at) => this.press({ series, at }));
          this.chart = new parts.Chart(canvas, config) as Chart;
        },
        () => this.isAway.set(true),
      );
    });
    const again = () => this.look.update((look) => look + 1);
    inject(BreakpointObserver)
      .observe('(prefers-color-scheme: dark)')
      .pipe(skip(1), takeUntilDestroyed())
      .subscribe(again);
    const chosen = new MutationObserver(again);
    chosen.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    inject(DestroyRef).onDestroy(() => {
      chosen.disconnect();
      this.chart?.destroy();
    });
  }

  protected readonly sayOf = (value: number | null | undefined): string =>
    value === null || value === undefined ? '–' : this.say()(value);

  protected onKey(event: KeyboardEvent): void {
    const along = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const across = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const at = this.at();
    if (event.key === 'Enter' && at !== null) this.press(at);
    else if (along !== undefined) this.step((at?.at ?? (along > 0 ? -1 : this.labels().length)) + along);
    else if (across !== undefined && this.series().length > 1)
      this.go({ series: wrapped((at?.series ?? 0) + across, this.series().length), at: at?.at ?? 0 });
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private step(to: number): void {
    if (to >= 0 && to < this.labels().length) this.go({ series: this.at()?.series ?? 0, at: to });
  }

  private go(point: ChartPoint): void {
    this.at.set(point);
    const active = [{ datasetIndex: point.series, index: point.at }];
    this.chart?.setActiveElements(active);
    this.chart?.tooltip?.setActiveElements(active, { x: 0, y: 0 });
    this.chart?.update('none');
  }

  private press(point: ChartPoint): void {
    if (this.canPick()) this.picked.emit(point);
  }
}

const wrapped = (at: number, of: number) => (at + of) % of;

/** The page's inks as they are just now: a canvas cannot read them by name. */
function inkOf(canvas: HTMLCanvasElement): ChartInk {
  const probe = canvas.ownerDocument.createElement('span');
  // Read at once, not on its way from the colour before.
  probe.style.transition = 'none';
  canvas.parentElement!.append(probe);
  const colour = (name: string) => {
    probe.style.color = `var(${name})`;
    return getComputedStyle(probe).color;
  };
  const read = {
    inks: inks.map(colour),
    text: colour('--text-soft'),
    hairline: colour('--hairline'),
    strong: colour('--text'),
    page: colour('--page'),
    type: getComputedStyle(canvas).fontFamily,
  };
  probe.remove();
  return {
    ...read,
    fill: (series) => {
      const ink = read.inks[series % read.inks.length]!;
      return series % read.inks.length === 0 ? ink : (hatched(canvas, ink, series) ?? ink);
    },
  };
}

/** Lines across a tile: slanted, upright, or none. */
function hatched(canvas: HTMLCanvasElement, ink: string, series: number): CanvasPattern | null {
  const ground = canvas.ownerDocument.createElement('canvas');
  ground.width = tile;
  ground.height = tile;
  const pen = ground.getContext('2d');
  if (pen === null) return null;
  pen.strokeStyle = ink;
  pen.lineWidth = 2;
  pen.beginPath();
  if (series % inks.length === 1) {
    for (const x of [-tile, 0, tile]) {
      pen.moveTo(x, tile);
      pen.lineTo(x + tile, 0);
    }
  } else if (series % inks.length === 2)
    for (const x of [1, 1 + tile / 2]) {
      pen.moveTo(x, 0);
      pen.lineTo(x, tile);
    }
  pen.stroke();
  return pen.createPattern(ground, 'repeat');
}
