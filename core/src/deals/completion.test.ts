import fc from 'fast-check';
import { completionOf, placeOf } from '.';

test.each([
  ['open', 0, 4, 0, 0],
  ['open', 1, 4, 2, 0.35],
  ['open', 3, 4, 4, 0.95],
  ['parked', 1, 4, 2, 0.35],
  ['lost', 1, 4, 2, 0.35],
  ['won', 0, 4, 0, 1],
] as const)('%s, %d of %d stages done, %d notches: %d', (status, stagesDone, stages, notches, completion) => {
  expect(completionOf({ status, stagesDone, stages, notches })).toBeCloseTo(completion, 10);
});

test('each notch and each stage takes a deal further, and only winning completes it', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 12 }), (stages) => {
      const all = Array.from({ length: stages }, (_, stagesDone) =>
        [0, 1, 2, 3, 4].map((notches) => completionOf({ status: 'open', stagesDone, stages, notches })),
      ).flat();
      expect(all.every((each, at) => at === 0 || each > all[at - 1]!)).toBe(true);
      expect(all.at(-1)).toBeLessThan(1);
    }),
  );
});

test('a stage that is not in the pipeline any more is as the first', () => {
  const stages = [{ id: 'a' }, { id: 'b' }];
  expect([placeOf('b', stages), placeOf('x', stages), placeOf('x', [])]).toEqual([
    { stagesDone: 1, stages: 2 },
    { stagesDone: 0, stages: 2 },
    { stagesDone: 0, stages: 1 },
  ]);
});
