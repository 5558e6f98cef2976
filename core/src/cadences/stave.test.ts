import type { CadenceStep } from '@kettle/contract';
import fc from 'fast-check';
import { addNote, copyNote, daysOfSteps, moveNote, plainStep, removeNote } from '.';

const step = (offsetDays: number, purpose = 'ask', part: Partial<CadenceStep> = {}): CadenceStep => ({
  ...plainStep,
  channel: 'call',
  offsetDays,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 5,
  purpose,
  ...part,
});
const three = [step(0, 'a'), step(2, 'b'), step(3, 'c')];
const purposes = (steps: readonly CadenceStep[]) => steps.map(({ purpose }) => purpose).join('');

describe('moving a step on the stave', () => {
  test('leaves the days of the others', () => {
    const { steps } = moveNote(three, 1, { day: 4, channel: 'call' });
    expect(daysOfSteps(steps)).toEqual([0, 4, 5]);
  });
  test('past another changes their order, and says where each went', () => {
    const { steps, places, at } = moveNote(three, 0, { day: 3, channel: 'email' });
    expect([purposes(steps), places, at]).toEqual(['bac', [1, 0, 2], 1]);
    expect(steps[1]).toMatchObject({ channel: 'email', offsetDays: 1 });
  });
  test('to another channel takes its template and its going by itself away', () => {
    const mail = step(0, 'a', {
      channel: 'email',
      mode: 'by-itself',
      templateIds: ['t' as never],
      fallbackChannel: 'call',
    });
    const { steps } = moveNote([mail], 0, { day: 0, channel: 'call' });
    expect(steps[0]).toMatchObject({ mode: 'by-hand', templateIds: [], fallbackChannel: null });
  });
  test('never before the start', () => {
    expect(daysOfSteps(moveNote(three, 2, { day: -4, channel: 'call' }).steps)).toEqual([0, 0, 2]);
  });
});

test('adding, copying and taking out keep all other days', () => {
  expect(daysOfSteps(addNote(three, step(0, 'd'), { day: 1, channel: 'text' }).steps)).toEqual([0, 1, 2, 5]);
  expect(daysOfSteps(copyNote(three, 1).steps)).toEqual([0, 2, 3, 5]);
  const { steps, places } = removeNote(three, 1);
  expect([daysOfSteps(steps), places]).toEqual([
    [0, 5],
    [0, null, 1],
  ]);
});

test('any moves keep every step once, in the order of their days, with offsets that are not negative', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 6 }), { minLength: 1, maxLength: 8 }),
      fc.array(fc.tuple(fc.nat(7), fc.integer({ min: -2, max: 20 })), { maxLength: 10 }),
      (offsets, moves) => {
        let steps = offsets.map((offset, n) => step(offset, String(n)));
        for (const [index, day] of moves)
          steps = moveNote(steps, index % steps.length, { day, channel: 'call' }).steps;
        expect([...purposes(steps)].sort().join('')).toBe(offsets.map((_, n) => n).join(''));
        expect(steps.every(({ offsetDays }) => offsetDays >= 0)).toBe(true);
      },
    ),
  );
});
