import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { type Point, postcodeAreas } from '@kettle/core/route';
import { geoMercator, geoPath } from 'd3-geo';
import { Pick } from '../../kit/pick';
import { county } from './county';

/** Something on the map. */
export interface Mark {
  readonly key: string;
  readonly point: Point;
  /** Its place in the day: none for whom one could see on the way. */
  readonly rank: number | null;
  readonly name: string;
  readonly isChosen: boolean;
}

const size = { width: 520, height: 460 };
const margin = 26;
/** How many degrees are shown around a single place. */
const around = 0.08;

const pointOf = ({ longitude, latitude }: Point): [number, number] => [longitude, latitude];

/** The day drawn on a map: the way in its order, the stops with their places in it, and who is near. */
@Component({
  selector: 'kettle-field-map',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick],
  template: `
    <svg [attr.viewBox]="'0 0 ' + size.width + ' ' + size.height" role="img" [attr.aria-label]="said()">
      @for (part of land(); track $index) {
        <path [attr.d]="part.d" [attr.class]="part.kind" />
      }
      @for (town of towns(); track town.name) {
        <text [attr.x]="town.x" [attr.y]="town.y" class="town">{{ town.name }}</text>
      }
      <path [attr.d]="way()" class="way" />
      @for (mark of drawn(); track mark.key) {
        <g [class.chosen]="mark.isChosen" [class.near]="mark.rank === null">
          <circle [attr.cx]="mark.x" [attr.cy]="mark.y" [attr.r]="mark.rank === null ? 5 : 10" />
          @if (mark.rank !== null) {
            <text [attr.x]="mark.x" [attr.y]="mark.y + 4">{{ mark.rank }}</text>
          }
          <title>{{ mark.name }}</title>
        </g>
      }
      @for (end of ends(); track $index) {
        <rect [attr.x]="end.x - 6" [attr.y]="end.y - 6" width="12" height="12" class="end" />
      }
      <path [attr.d]="scale().d" class="scale" />
      <text [attr.x]="14" [attr.y]="size.height - 18" class="scale-words">{{ scale().words }}</text>
    </svg>
    @if (isPlacing()) {
      <button kit-pick class="placing" (click)="place($event)" [attr.aria-label]="texts.placing"></button>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
    }
    svg {
      display: block;
      inline-size: 100%;
      block-size: auto;
      background: var(--page);
      border: 1px solid var(--hairline);
    }
    .land {
      fill: var(--band);
      stroke: var(--dashed);
    }
    .river {
      fill: none;
      stroke: var(--hairline);
      stroke-width: 5;
    }
    .road {
      fill: none;
      stroke: var(--dashed);
      stroke-width: 1;
    }
    .way {
      fill: none;
      stroke: var(--link);
      stroke-width: 2;
    }
    text {
      text-anchor: middle;
      font-size: 11px;
      font-weight: 700;
      fill: var(--sheet);
    }
    .town {
      font-weight: 400;
      fill: var(--text-soft);
    }
    .scale-words {
      text-anchor: start;
      font-weight: 400;
      fill: var(--text-soft);
    }
    circle {
      fill: var(--link);
    }
    .near circle {
      fill: var(--sheet);
      stroke: var(--link);
      stroke-width: 1.5;
    }
    .chosen circle {
      fill: var(--accent);
      stroke: var(--accent);
    }
    .end {
      fill: var(--text);
    }
    .scale {
      fill: none;
      stroke: var(--text-soft);
    }
    .placing {
      position: absolute;
      inset: 0;
      cursor: crosshair;
    }
  `,
})
export class FieldMap {
  protected readonly texts = { placing: $localize`Press where it is` };
  protected readonly size = size;

  readonly marks = input.required<readonly Mark[]>();
  /** Where the day begins and ends. */
  readonly from = input<Point | null>(null);
  readonly to = input<Point | null>(null);
  /** Whether a press says where something is. */
  readonly isPlacing = input(false);
  readonly placed = output<Point>();

  private readonly points = computed(() => [
    ...this.marks().map(({ point }) => point),
    ...[this.from(), this.to()].filter((point) => point !== null),
  ]);
  private readonly isInCounty = computed(() => {
    const points = this.points();
    return points.length === 0 || points.every(({ latitude, longitude }) => isWithin(latitude, longitude));
  });
  private readonly projection = computed(() => {
    const points = this.points();
    const extent: [[number, number], [number, number]] = [
      [margin, margin],
      [size.width - margin, size.height - margin],
    ];
    if (this.isInCounty()) return geoMercator().fitExtent(extent, county);
    const coordinates = points.flatMap((point) => {
      const [x, y] = pointOf(point);
      return [
        [x - around, y - around],
        [x + around, y + around],
      ];
    });
    return geoMercator().fitExtent(extent, { type: 'MultiPoint', coordinates });
  });
  protected readonly land = computed(() => {
    const path = geoPath(this.projection()).digits(1);
    return county.features.map((feature) => ({ kind: feature.properties.kind, d: path(feature) }));
  });
  protected readonly towns = computed(() =>
    Object.values(postcodeAreas).map(({ town: name, ...point }) => ({ name, ...this.at(point, -20) })),
  );
  protected readonly drawn = computed(() =>
    // Those of the day above the others.
    [...this.marks()]
      .sort((a, b) => Number(a.rank !== null) - Number(b.rank !== null))
      .map((mark) => ({ ...mark, ...this.at(mark.point) })),
  );
  protected readonly ends = computed(() =>
    [this.from(), this.to()].flatMap((point) => (point === null ? [] : [this.at(point)])),
  );
  protected readonly way = computed(() => {
    const stops = this.marks().flatMap(({ rank, point }) => (rank === null ? [] : [{ rank, point }]));
    const ordered = stops.sort((a, b) => a.rank - b.rank).map(({ point }) => point);
    const places = [this.from(), ...ordered, this.to()].filter((point) => point !== null);
    return places
      .map((point, at) => {
        const { x, y } = this.at(point);
        return `${at === 0 ? 'M' : 'L'}${x},${y}`;
      })
      .join('');
  });
  /** Ten kilometres, as long as they are in the middle of what is shown. */
  protected readonly scale = computed(() => {
    const projection = this.projection();
    const [longitude, latitude] = projection.invert!([size.width / 2, size.height / 2])!;
    const degrees = 10 / (111.32 * Math.cos((latitude * Math.PI) / 180));
    const length = this.at({ latitude, longitude: longitude + degrees }).x - size.width / 2;
    return { d: `M14,${size.height - 12}h${Math.round(length)}`, words: $localize`10 km` };
  });
  protected readonly said = computed(() => {
    const count = this.marks().filter(({ rank }) => rank !== null).length;
    return $localize`Map of the day: ${count}:count: stops in their order. The list has the same in words.`;
  });

  protected place(event: MouseEvent): void {
    const { left, top, width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const at: [number, number] = [
      ((event.clientX - left) / width) * size.width,
      ((event.clientY - top) / height) * size.height,
    ];
    const found = this.projection().invert?.(at);
    if (!found) return;
    const [longitude, latitude] = found.map((degrees) => Math.round(degrees * 100_000) / 100_000) as [
      number,
      number,
    ];
    this.placed.emit({ latitude, longitude });
  }

  private at(point: Point, up = 0): { readonly x: number; readonly y: number } {
    const [x, y] = this.projection()(pointOf(point))!;
    return { x: Math.round(x), y: Math.round(y + up) };
  }
}

const isWithin = (latitude: number, longitude: number) =>
  latitude > 53.75 && latitude < 54.3 && longitude > -5.7 && longitude < -4.9;
