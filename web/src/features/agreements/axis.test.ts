import type { AgreementRow } from '@kettle/contract';
import { axisOf } from './axis';

const today = '2026-11-24';
const agreement = (part: Partial<AgreementRow>): AgreementRow =>
  ({
    valueMinor: 240_000,
    termMonths: 24,
    yearlyMinor: 120_000,
    leadOn: '2026-12-01',
    noticeDeadlineOn: '2027-01-04',
    endsOn: '2027-03-01',
    ...part,
  }) as AgreementRow;

test('the axis runs from today through the next twelve months', () => {
  const { months } = axisOf([], today);
  expect(months.map((month) => month.name)).toEqual([
    'Dec',
    'Jan',
    'Feb',
    'Mar',
    'Apr',
    'May',
    'Jun',
    'Jul',
    'Aug',
    'Sept',
    'Oct',
    'Nov',
  ]);
  expect(months[0]!.at).toBeCloseTo(7 / 365);
});

test('an agreement has its time to talk, its deadline and its end in order', () => {
  const [row] = axisOf([agreement({})], today).rows;
  expect(row!.lead).toBeLessThan(row!.deadline!);
  expect(row!.deadline!).toBeLessThan(row!.end);
  expect(row!.yearlyMinor).toBe(120_000);
});

test('a deadline that is over or beyond the year is not drawn; what began before today begins at its edge', () => {
  expect(axisOf([agreement({ noticeDeadlineOn: '2026-11-23' })], today).rows[0]!.deadline).toBeNull();
  expect(axisOf([agreement({ noticeDeadlineOn: '2028-01-01' })], today).rows[0]!.deadline).toBeNull();
  expect(axisOf([agreement({ leadOn: '2026-10-01', endsOn: '2029-01-01' })], today).rows[0]).toMatchObject({
    lead: 0,
    end: 1,
  });
});
