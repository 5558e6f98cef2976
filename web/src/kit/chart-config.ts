import type { ChartConfiguration, ChartDataset } from 'chart.js';

export interface ChartSeries {
  readonly name: string;
  /** One for each label; null is a gap. */
  readonly values: readonly (number | null)[];
}

/** `steps` is a line that stays until its next value: what holds from then on. */
export type ChartKind = 'bars' | 'line' | 'steps';

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

/** Lines are told apart without their colour too. */
const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3]];

/** What Chart.js is told: no motion, our inks, values in our words. */
export function chartConfig(
  { kind, labels, series, most, say }: ChartAsked,
  ink: ChartInk,
  press: (series: number, at: number) => void,
): ChartConfiguration<'bar' | 'line', (number | null)[], string> {
  const datasets = series.map(({ name, values }, at): ChartDataset<'bar' | 'line', (number | null)[]> => {
    const colour = ink.inks[at % ink.inks.length]!;
    if (kind === 'bars')
      return {
        ...{ type: 'bar', label: name, data: [...values], backgroundColor: ink.fill(at) },
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
    type: kind === 'bars' ? 'bar' : 'line',
    data: { labels: [...labels], datasets },
    options: {
      animation: false,
      maintainAspectRatio: false,
      onClick: (_, [hit]) => {
        if (hit) press(hit.datasetIndex, hit.index);
      },
      scales: {
        x: { grid: { display: false }, border: { color: ink.hairline }, ticks: { ...ticks, maxRotation: 0 } },
        y: {
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
            label: ({ dataset, parsed }) =>
              `${dataset.label ?? ''}: ${parsed.y === null ? '' : say(parsed.y)}`,
          },
        },
      },
    },
  };
}
