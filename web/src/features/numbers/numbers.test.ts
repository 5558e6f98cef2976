import type { Forecast } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { CalibrationPanel } from './calibration-panel';
import { ForecastPanel } from './forecast-panel';

jest.mock('../../kit/chart-parts', () => ({
  Chart: class {
    data = { datasets: [] };
    update() {}
    destroy() {}
  },
}));

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const dealId = '01938f6c-0000-7000-8000-0000000000d1';
const pipelineId = '01938f6c-0000-7000-8000-0000000000b1';
const stageId = '01938f6c-0000-7000-8000-0000000000c1';

const aForecast = (part: object = {}): Forecast =>
  ({
    ...{ from: '2026-11-01', until: '2026-11-30', quotaMinor: 1_000_000, supposed: null, count: 1 },
    now: {
      ...{ wonMinor: 200_000, expectedMinor: 700_000, lowMinor: 200_000, middleMinor: 700_000 },
      ...{ highMinor: 1_200_000, quotaChance: 0.5 },
    },
    chances: [
      { minor: 200_000, chance: 1 },
      { minor: 1_200_000, chance: 0.5 },
    ],
    deals: [
      {
        ...{ dealId, name: 'Hotel Linde', ownerName: 'Imogen Thorne', stageName: 'Offer' },
        ...{
          expectedCloseOn: '2026-11-28',
          minor: 1_000_000,
          winChance: 0.5,
          inTime: 1,
          ifWon: 1,
          ifLost: 0,
        },
      },
    ],
    weeks: [
      {
        on: '2026-11-24',
        wonMinor: 200_000,
        expectedMinor: 700_000,
        lowMinor: 200_000,
        highMinor: 1_200_000,
      },
    ],
    ...{ learnedFrom: 3, unconverted: 0 },
    ...part,
  }) as Forecast;

async function show(answer: Forecast, inputs: Record<string, unknown> = {}): Promise<Part<ForecastPanel>> {
  const part = await showPart(ForecastPanel, { role: 'manager', inputs });
  await part.answerAll('/api/pipelines', { pipelines: [] });
  await part.answerAll('/api/colleagues', { people: [] });
  await part.answer('/api/numbers/forecast', answer);
  return part;
}

test('the chance of the quota is the first thing seen, with what is expected and what it hangs on', async () => {
  const part = await show(aForecast());
  expect(said(part.root.querySelector('.big')!)).toBe('50 % to reach £10,000');
  expect([...part.root.querySelectorAll('dl div')].map(said)).toContain('expected£7,000');
  expect(said(part.root)).toContain('Until 20 deals are won with an expected day, one closes on its day.');
  expect(said(part.root)).toContain('100 % / 0 %');
});

test('what if a deal is lost, or worth less: it is asked with that, said beside, and forgotten', async () => {
  const part = await show(aForecast());
  await part.choose('What if Hotel Linde', 'it is lost');
  const lost = part.asked('/api/numbers/forecast');
  expect(lost.request.body).toEqual({
    ...{ whose: 'mine', from: '2026-11-01', months: 1, pipelineId: null },
    whatIf: [{ dealId, as: 'lost' }],
  });
  const { now } = aForecast();
  lost.flush(aForecast({ supposed: { ...now, expectedMinor: 200_000, quotaChance: 0 } }));
  await part.settle();
  expect(said(part.root.querySelector('.supposed')!)).toContain(
    '£2,000 expected (−£5,000) , a chance of 0 %',
  );
  await part.choose('What if Hotel Linde', 'it is worth');
  await part.answer('/api/numbers/forecast', aForecast());
  await part.type(part.field('What Hotel Linde would be worth'), '4000');
  const worth = part.asked('/api/numbers/forecast');
  expect(worth.request.body.whatIf).toEqual([{ dealId, as: 'value', minor: 400_000 }]);
  worth.flush(aForecast({ supposed: now }));
  await part.settle();
  await part.click(part.button('forget it'));
  expect(part.asked('/api/numbers/forecast').request.body.whatIf).toEqual([]);
});

test('without a quota the expected sum is first; a quarter is asked for as one', async () => {
  const { now } = aForecast();
  const part = await show(
    aForecast({ quotaMinor: null, now: { ...now, quotaChance: null }, learnedFrom: 40 }),
    {
      ...{ months: '3', from: '2026-10-01', whose: 'team' },
    },
  );
  expect(said(part.root.querySelector('.big')!)).toBe('£7,000 expected');
  expect(said(part.root)).toContain('learned from how 40 won deals kept their expected day');
  expect(said(part.root)).toContain('No quota is set for it.');
});

test('with nothing to close it says what is counted', async () => {
  const part = await show(aForecast({ deals: [], count: 0, chances: [] }));
  expect(said(part.root)).toContain('Nothing is expected to close then');
});

test('a chance that history speaks against is marked, with what it should be', async () => {
  const part = await showPart(CalibrationPanel, { role: 'admin' });
  await part.answerAll('/api/pipelines', { pipelines: [] });
  await part.answer('/api/numbers/calibration', {
    ...{
      since: '2024-11-24',
      passages: 60,
      score: 0.2,
      reliability: 0.03,
      resolution: 0.05,
      uncertainty: 0.22,
    },
    stages: [
      {
        stageId,
        pipelineId,
        name: 'Offer',
        chance: 0.4,
        closed: 40,
        won: 30,
        low: 0.6,
        high: 0.86,
        proposed: 0.75,
      },
      {
        stageId,
        pipelineId,
        name: 'Survey',
        chance: 0.2,
        closed: 0,
        won: 0,
        low: null,
        high: null,
        proposed: null,
      },
    ],
  });
  const [offer, survey] = [...part.root.querySelectorAll('tbody tr')].map(said);
  expect(offer).toBe('Offer 40 % 30 / 40 60 % – 86 % 75 %');
  expect(survey).toContain('nothing closed yet');
  expect(said(part.root)).toContain(
    '0.030 because chances are off, less 0.050 because stages tell deals apart, plus 0.220',
  );
  expect(said(part.root)).toContain('Change the chances under Settings, Pipelines');
});
