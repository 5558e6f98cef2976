import type { ChartConfiguration, ChartDataset } from 'chart.js';

export interface ChartSeries {
  readonly name: string;
  /** One for each label; null is a gap. */
  readonly values: readonly (number | null)[];
}

/**
 * `steps` is a line that stays until its next value: what holds from then on. `stack` puts the bars of a label on each other. `bridge` is one
 * series that goes from its first value to its last: what lies between are more and less, each beginning where the one before ended.
 */
export type ChartKind = 'bars' | 'stack' | 'bridge' | 'line' | 'steps';

type Drawn = (number | [number, number] | null)[];

/**
 * Where the bars of a bridge begin and end.
 * @example bridgeOf([100, 20, -50, 70]) is [[0, 100], [100, 120], [120, 70], [0, 70]]
 */
export function bridgeOf(values: readonly (number | null)[]): [number, number][] {
  let at = 0;
  return values.map((value, index) => {
    const isLevel = index === 0 || index === values.length - 1;
    const from = isLevel ? 0 : at;
    at = isLevel ? (value ?? 0) : at + (value ?? 0);
    return [from, at];
  });
}

export interface ChartAsked {
  readonly kind: ChartKind;
  readonly labels: readonly string[];
  readonly series: readonly ChartSeries[];
  /** The top of the scale; left out, what the values need. */
  readonly most: number | null;
  readonly say: (value: number) => string;
}

/** What a chart is drawn with: one ink for each series, for lines and text. */
export interface ChartInk {
  readonly inks: readonly string[];
  readonly text: string;
  /** Family of the page's type. */
  readonly type: string;
  readonly hairline: string;
  /** What stands out, and the page it stands out from. */
  readonly strong: string;
  readonly page: string;
  /** Fills a bar: the first series is plain, the others carry a pattern beside their colour. */
  fill(series: number): string | CanvasPattern;
}

const isBars = (kind: ChartKind) => kind === 'bars' || kind === 'stack' || kind === 'bridge';

/** Lines are told apart without their colour too. */
const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3]];

/** What Chart.js is told: no motion, our inks, values in our words. */
export function chartConfig(
  { kind, labels, series, most, say }: ChartAsked,
  ink: ChartInk,
  press: (series: number, at: number) => void,
): ChartConfiguration<'bar' | 'line', Drawn, string> {
  const datasets = series.map(({ name, values }, at): ChartDataset<'bar' | 'line', Drawn> => {
    const colour = ink.inks[at % ink.inks.length]!;
    if (isBars(kind))
      return {
        ...{ type: 'bar', label: name, data: kind === 'bridge' ? bridgeOf(values) : [...values] },
        backgroundColor: ink.fill(at),
        ...{ borderColor: colour, borderWidth: 1, maxBarThickness: 48 },
      };
    return {
      ...{ type: 'line', label: name, data: [...values], borderColor: colour, borderWidth: 2 },
      ...{ borderDash: dashes[at % dashes.length]!, stepped: kind === 'steps' ? 'before' : false },
      ...{ pointRadius: 2, pointHitRadius: 12, pointBackgroundColor: colour },
    };
  });
  const font = { family: ink.type, size: 12 };
  const ticks = { color: ink.text, font };
  return {
    type: isBars(kind) ? 'bar' : 'line',
    data: { labels: [...labels], datasets },
    options: {
      animation: false,
      maintainAspectRatio: false,
      onClick: (_, [hit]) => {
        if (hit) press(hit.datasetIndex, hit.index);
      },
      scales: {
        x: {
          stacked: kind === 'stack',
          grid: { display: false },
          border: { color: ink.hairline },
          ticks: { ...ticks, maxRotation: 0 },
        },
        y: {
          stacked: kind === 'stack',
          beginAtZero: true,
          ...(most !== null && { max: most }),
          grid: { color: ink.hairline },
          border: { display: false },
          ticks: { ...ticks, maxTicksLimit: 5, callback: (value) => say(Number(value)) },
        },
      },
      plugins: {
        tooltip: {
          bodyFont: font,
          titleFont: font,
          displayColors: false,
          backgroundColor: ink.strong,
          bodyColor: ink.page,
          titleColor: ink.page,
          callbacks: {
            label: ({ dataset, parsed, dataIndex, datasetIndex }) => {
              const value = kind === 'bridge' ? series[datasetIndex]?.values[dataIndex] : parsed.y;
              return `${dataset.label ?? ''}: ${value === null || value === undefined ? '' : say(value)}`;
            },
          },
        },
      },
    },
  };
}
