import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import type { ChartConfiguration } from 'chart.js';
import { showPart } from '../../testing/part';
import { type ChartPoint, ChartView } from './chart';
import { bridgeOf, chartConfig, type ChartInk } from './chart-config';

/** What was told to Chart.js, which has no canvas here; the journeys draw for real. */
const drawn: FakeChart[] = [];
class FakeChart {
  readonly active: { datasetIndex: number; index: number }[][] = [];
  readonly tooltip = { setActiveElements: () => undefined };
  isGone = false;
  constructor(
    _: unknown,
    readonly config: ChartConfiguration<'bar' | 'line', (number | null)[], string>,
  ) {
    drawn.push(this);
  }
  setActiveElements(active: { datasetIndex: number; index: number }[]) {
    this.active.push(active);
  }
  update() {
    // Drawn again.
  }
  destroy() {
    this.isGone = true;
  }
}
jest.mock('./chart-parts', () => ({ Chart: FakeChart }));

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView],
  template: `
    <kettle-chart
      label="Deals by quarter"
      labelHead="quarter"
      canPick
      [labels]="['Q1', 'Q2', 'Q3']"
      [series]="series()"
      [say]="say"
      (picked)="picked.push($event)"
    />
  `,
})
class Quarters {
  readonly series = signal([
    { name: 'won', values: [12, 19, 9] },
    { name: 'lost', values: [5, null, 8] },
  ]);
  readonly picked: ChartPoint[] = [];
  readonly say = (value: number) => `${value} deals`;
}

beforeEach(() => jest.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null));

const show = async () => {
  drawn.length = 0;
  const part = await showPart(Quarters);
  await part.pass(20);
  const canvas = part.root.querySelector('canvas')!;
  const press = async (key: string) => {
    const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
    canvas.dispatchEvent(event);
    await part.settle();
    return event.defaultPrevented;
  };
  return { part, canvas, press };
};

test('says what it is, and has the same numbers as a table whose figures are pressed', async () => {
  const { part, canvas } = await show();
  expect(canvas.getAttribute('aria-label')).toBe('Deals by quarter. The arrow keys read its values.');
  const rows = [...part.root.querySelectorAll('tr')].map((row) =>
    [...row.children].map((cell) => cell.textContent.trim()),
  );
  expect(rows).toEqual([
    ['quarter', 'won', 'lost'],
    ['Q1', '12 deals', '5 deals'],
    ['Q2', '19 deals', '–'],
    ['Q3', '9 deals', '8 deals'],
  ]);
  await part.click(part.button('8 deals'));
  expect(part.shown.picked).toEqual([{ series: 1, at: 2 }]);
});

test('the arrows read value by value and series by series, to their ends; Enter presses; other keys are the page’s', async () => {
  const { part, press } = await show();
  const told = () => part.root.querySelector('.told')!.textContent.trim();
  expect(await press('ArrowRight')).toBe(true);
  expect(told()).toBe('won, quarter Q1: 12 deals');
  await press('ArrowLeft');
  expect(told()).toBe('won, quarter Q1: 12 deals');
  for (const key of Array<string>(4).fill('ArrowRight')) await press(key);
  await press('ArrowUp');
  expect(told()).toBe('lost, quarter Q3: 8 deals');
  await press('Enter');
  expect(part.shown.picked).toEqual([{ series: 1, at: 2 }]);
  expect(drawn.at(-1)!.active.at(-1)).toEqual([{ datasetIndex: 1, index: 2 }]);
  expect(await press('j')).toBe(false);
});

test('is drawn anew for other numbers and another theme, and the one before is gone', async () => {
  const { part } = await show();
  expect(drawn).toHaveLength(1);
  part.shown.series.set([{ name: 'won', values: [1, 2, 3] }]);
  await part.pass(20);
  expect([drawn.length, drawn[0]!.isGone, drawn[1]!.config.data.datasets[0]!.data]).toEqual([
    2,
    true,
    [1, 2, 3],
  ]);
  document.documentElement.dataset['theme'] = 'dark';
  await part.pass(20);
  expect([drawn.length, drawn[1]!.isGone]).toEqual([3, true]);
});

test('is told in our words: no motion, a pattern beside the colour, lines apart by their dashes', () => {
  const ink: ChartInk = {
    ...{
      inks: ['teal', 'copper'],
      text: 'grey',
      hairline: 'pale',
      type: 'Ours',
      strong: 'black',
      page: 'white',
    },
    fill: (series) => `fill ${series}`,
  };
  const series = [
    { name: 'a', values: [0.1] },
    { name: 'b', values: [null] },
  ];
  const pressed: number[][] = [];
  const asked = { labels: ['x'], series, most: 1, say: (value: number) => `${value * 100} %` };
  const bars = chartConfig({ ...asked, kind: 'bars' }, ink, (...at) => pressed.push(at));
  expect(bars.options?.animation).toBe(false);
  expect(bars.data.datasets.map(({ backgroundColor }) => backgroundColor)).toEqual(['fill 0', 'fill 1']);
  const y = bars.options?.scales?.['y'] as {
    max: number;
    ticks: { callback: (value: number) => string };
  };
  expect([y.max, y.ticks.callback(0.5)]).toEqual([1, '50 %']);
  (bars.options?.onClick as unknown as (event: null, hits: object[]) => void)(null, [
    { datasetIndex: 1, index: 0 },
  ]);
  (bars.options?.onClick as unknown as (event: null, hits: object[]) => void)(null, []);
  expect(pressed).toEqual([[1, 0]]);
  const lines = chartConfig({ ...asked, kind: 'steps' }, ink, () => undefined).data.datasets as unknown as {
    stepped: string;
    borderDash: number[];
  }[];
  expect(lines.map(({ stepped }) => stepped)).toEqual(['before', 'before']);
  expect(new Set(lines.map(({ borderDash }) => borderDash.join())).size).toBe(2);
});

test('a bridge goes from its first value to its last, each step from where the one before ended', () => {
  expect(bridgeOf([100, 20, -50, 70])).toEqual([
    [0, 100],
    [100, 120],
    [120, 70],
    [0, 70],
  ]);
  expect(bridgeOf([100, null, 100])).toEqual([
    [0, 100],
    [100, 100],
    [0, 100],
  ]);
});
