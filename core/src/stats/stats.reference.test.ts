import {
  differenceOf,
  fisherTest,
  happenedBy,
  kaplanMeier,
  quantileTime,
  shareOf,
  standardErrorAt,
  type Watched,
} from '.';

describe('shares, against Newcombe, Statistics in Medicine 17 (1998), 857-872, table I, method 3', () => {
  test.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('%d of %d', (part, whole, low, high) => {
    const share = shareOf(part, whole);
    expect(share.low).toBeCloseTo(low, 4);
    expect(share.high).toBeCloseTo(high, 4);
  });
});

test('a difference, against Newcombe, Statistics in Medicine 17 (1998), 873-890, table II, method 10', () => {
  const { difference, low, high } = differenceOf(shareOf(56, 70), shareOf(48, 80));
  expect([difference, low, high].map((value) => value.toFixed(4))).toEqual(['0.2000', '0.0524', '0.3339']);
});

test('the lady tasting tea, Fisher 1935: three of four cups named rightly', () => {
  const { oneSided, twoSided } = fisherTest({ first: [3, 1], second: [1, 3] });
  expect([oneSided.toFixed(4), twoSided.toFixed(4)]).toEqual(['0.2429', '0.4857']);
});

/** Weeks of remission; a plus marks a patient who was still in remission when last seen. */
function remission(weeks: string): Watched[] {
  return weeks.split(' ').map((week) => ({ time: Number.parseInt(week, 10), happened: !week.endsWith('+') }));
}

describe('time to an event, against Freireich et al., Blood 21 (1963), 699-716', () => {
  const treated = kaplanMeier(
    remission('6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+'),
  );
  const placebo = kaplanMeier(remission('1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23'));
  test.each([
    [6, 0.857],
    [7, 0.807],
    [10, 0.753],
    [13, 0.69],
    [16, 0.627],
    [22, 0.538],
    [23, 0.448],
  ])('6-MP at %d weeks', (week, survival) => {
    expect(treated.find(({ time }) => time === week)?.survival).toBeCloseTo(survival, 3);
  });
  test('the medians are 23 and 8 weeks', () => {
    expect([quantileTime(treated, 0.5), quantileTime(placebo, 0.5)]).toEqual([23, 8]);
  });

  // The standard errors as textbooks print them for these patients (Greenwood's formula); from memory.
  test.each([
    [6, 0.0764],
    [7, 0.0869],
    [10, 0.0963],
    [13, 0.1068],
    [16, 0.1141],
    [22, 0.1282],
    [23, 0.1346],
  ])('the standard error at %d weeks', (week, error) => {
    expect(standardErrorAt(treated, week)).toBeCloseTo(error, 4);
  });
  test('with as many of a kind counted at once, it is the same', () => {
    const cases = remission('1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23');
    const counted = [...new Set(cases.map(({ time }) => time))].map((time) => ({
      ...{ time, happened: true },
      count: cases.filter((each) => each.time === time).length,
    }));
    expect(kaplanMeier(counted)).toEqual(placebo);
    expect(happenedBy(counted, 8)!.value).toBeCloseTo(
      1 - placebo.find(({ time }) => time === 8)!.survival,
      10,
    );
  });
});
