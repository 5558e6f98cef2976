import fc from 'fast-check';
import type { WorkingCalendar } from '../time';
import {
  advise,
  answerCases,
  chanceOfAnswer,
  enterStage,
  leaveStage,
  missingFacts,
  stageLike,
  tallyAnswers,
  tetherStateOf,
  type BriefTaskState,
} from '.';

const calendar: WorkingCalendar = {
  weekdays: [1, 2, 3, 4, 5],
  startMinute: 540,
  endMinute: 1050,
  zone: 'Europe/London',
  holidays: new Map(),
  place: 'Marrowdale',
};
const tasks = [
  { id: 'a', afterDays: 0 },
  { id: 'b', afterDays: 3 },
];

describe('a stage brief', () => {
  test('makes each task once, on its working day', () => {
    // A Thursday: three working days on is the Tuesday after.
    expect(enterStage(tasks, [], '2026-11-26', calendar)).toEqual({
      make: [
        { task: tasks[0], dueOn: '2026-11-26' },
        { task: tasks[1], dueOn: '2026-12-01' },
      ],
      renew: [],
    });
  });

  test('whatever happened to its tasks, none is made twice, and none is made and renewed', () => {
    const state = fc.constantFrom<BriefTaskState['state'][]>('untouched', 'touched', 'done', 'withdrawn');
    const known = fc.uniqueArray(fc.record({ briefTaskId: fc.constantFrom('a', 'b', 'gone'), state }), {
      selector: ({ briefTaskId }) => briefTaskId,
    });
    fc.assert(
      fc.property(known, (states) => {
        const { make, renew } = enterStage(tasks, states, '2026-11-26', calendar);
        const ids = [...make.map(({ task }) => task.id), ...renew.map(({ briefTaskId }) => briefTaskId)];
        expect(new Set(ids).size).toBe(ids.length);
        for (const { briefTaskId, state: was } of states)
          expect(ids.includes(briefTaskId)).toBe(was === 'withdrawn' && briefTaskId !== 'gone');
        expect(
          leaveStage(states).every((id) =>
            states.some((each) => each.briefTaskId === id && each.state === 'untouched'),
          ),
        ).toBe(true);
      }),
    );
  });
});

const nothing = {
  amountMinor: 0,
  lineCount: 0,
  expectedCloseOn: null,
  decisionOn: null,
  roles: [],
  competitors: [],
  custom: {},
};

test.each([
  ['amount', { amountMinor: 1 }],
  ['lines', { lineCount: 1 }],
  ['close', { expectedCloseOn: '2027-01-01' }],
  ['decision', { decisionOn: '2027-01-01' }],
  ['decider', { roles: ['uses', 'decides'] }],
  ['signer', { roles: ['signs'] }],
  ['competitor', { competitors: ['Kolk'] }],
  [
    'custom:0198f6c0-0000-7000-8000-000000000001',
    { custom: { '0198f6c0-0000-7000-8000-000000000001': false } },
  ],
] as const)('%s is missing until it is known', (need, part) => {
  expect(missingFacts([need], nothing)).toEqual([need]);
  expect(missingFacts([need], { ...nothing, ...part })).toEqual([]);
});

describe('a stage of another pipeline', () => {
  const stage = (id: string, name: string, winProbability: number) => ({ id, name, winProbability });
  const others = [stage('1', 'First', 0.1), stage('2', 'offer', 0.3), stage('3', 'Late', 0.6)];
  test.each([
    ['Offer', 0.9, '2'],
    ['Survey', 0.25, '2'],
    ['Survey', 0.45, '2'],
    ['Survey', 0.46, '3'],
  ])('like %s at %d is %s', (name, probability, id) => {
    expect(stageLike(stage('x', name, probability), others)?.id).toBe(id);
  });
  test('is none where there is none', () => {
    expect(stageLike(stage('x', 'y', 0.5), [])).toBeNull();
  });
});

test('an open deal has exactly one tether state, whenever its next step is', () => {
  const day = fc
    .date({ min: new Date('2020-01-01'), max: new Date('2030-01-01'), noInvalidDate: true })
    .map((at) => at.toISOString().slice(0, 10));
  fc.assert(
    fc.property(fc.option(day), day, (next, today) => {
      const holds = {
        late: next !== null && next < today,
        today: next === today,
        held: next !== null && next > today,
        loose: next === null,
      };
      const names = Object.entries(holds)
        .filter(([, is]) => is)
        .map(([name]) => name);
      expect(names).toEqual([tetherStateOf(next, today)]);
    }),
  );
});

describe('when to let go', () => {
  const at = (day: number, counts: 'attempt' | 'conversation') => ({
    at: new Date(Date.UTC(2026, 0, day, 9)).toISOString(),
    counts,
  });
  const now = '2026-12-01T09:00:00.000Z';

  test('each unanswered try is a case, answered when a conversation came within thirty days', () => {
    const journal = [at(1, 'attempt'), at(3, 'attempt'), at(20, 'conversation'), at(21, 'attempt')];
    expect(answerCases(journal, now)).toMatchObject([
      { tries: 1, answered: true },
      { tries: 2, answered: true },
      { tries: 1, answered: false },
    ]);
  });

  test('the thirtieth day still counts, the next does not; a window that is not over counts as far as it goes', () => {
    expect(answerCases([at(1, 'attempt'), at(31, 'conversation')], now)).toEqual([
      { tries: 1, answered: true, days: 30 },
    ]);
    expect(answerCases([at(1, 'attempt'), at(32, 'conversation')], now)).toEqual([
      { tries: 1, answered: false, days: 30 },
    ]);
    expect(answerCases([at(1, 'attempt')], '2026-01-20T09:00:00.000Z')).toEqual([
      { tries: 1, answered: false, days: 19 },
    ]);
  });

  test('the chance is that of so many tries, twelve standing for all beyond', () => {
    const tallies = tallyAnswers([
      { tries: 1, answered: true, days: 3 },
      { tries: 1, answered: false, days: 30 },
      { tries: 12, answered: false, days: 30 },
    ]);
    expect(chanceOfAnswer(tallies, 0)).toMatchObject({ part: 1, whole: 2 });
    expect(chanceOfAnswer(tallies, 40)).toMatchObject({ part: 0, whole: 1 });
    expect(chanceOfAnswer(tallies, 5)).toBeNull();
  });

  test('young tries neither go missing nor count as failures: a true chance of 20 % is found with 60 days of history', () => {
    // One try a day for 60 days by each of 200 people; every fifth is answered, on the 20th day.
    const cases = Array.from({ length: 60 }, (_, age) => age).flatMap((age) =>
      Array.from({ length: 200 }, (_, person) => {
        const answered = person % 5 === 0 && age >= 20;
        return { tries: 1, answered, days: answered ? 20 : Math.min(age, 30) };
      }),
    );
    const share = chanceOfAnswer(tallyAnswers(cases), 1)!;
    expect(share.rate).toBeCloseTo(0.2, 2);
    expect([share.low < 0.2, share.high > 0.2, share.whole < cases.length]).toEqual([true, true, true]);
    // Leaving out the young that were not answered would say more.
    const plain = cases.filter(({ answered, days }) => answered || days >= 30);
    expect(plain.filter(({ answered }) => answered).length / plain.length).toBeGreaterThan(0.24);
  });

  test.each([
    [0, 20, 10, 'too little known'],
    [0, 100, 10, 'consider letting go'],
    [30, 100, 10, 'go on'],
    [0, 20, 200, 'consider letting go'],
    [9, 100, 200, 'consider letting go'],
    [30, 100, 200, 'go on'],
  ])('%d answers of %d cases, open for %d days: %s', (answered, cases, open, advice) => {
    const share = chanceOfAnswer([{ tries: 3, cases, answered }], 3);
    expect(advise(share, { open, usual: 60 })).toBe(advice);
  });
});
