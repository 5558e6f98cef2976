import fc from 'fast-check';
import { balanceOf, invoiceStateOn } from '.';

const day = '2026-11-24';
const state = (part: object) =>
  invoiceStateOn({ totalMinor: 1200, paidMinor: 0, creditedMinor: 0, dueOn: day, ...part }, day);

test('where an invoice stands', () => {
  expect(state({})).toBe('open');
  expect(state({ dueOn: '2026-11-23' })).toBe('overdue');
  expect(state({ paidMinor: 1199, dueOn: '2026-11-23' })).toBe('overdue');
  expect(state({ paidMinor: 1200, dueOn: '2026-11-23' })).toBe('paid');
  expect(state({ paidMinor: 1300 })).toBe('paid');
  expect(state({ creditedMinor: 1200 })).toBe('credited');
  expect(state({ creditedMinor: 1200, paidMinor: 600 })).toBe('credited');
  expect(state({ totalMinor: 0 })).toBe('paid');
});

test('the balance is what the parts leave, in whatever order they came', () => {
  const minor = fc.integer({ min: 0, max: 1_000_000 });
  fc.assert(
    fc.property(minor, fc.array(minor), minor, (totalMinor, payments, creditedMinor) => {
      const paidMinor = payments.reduce((sum, each) => sum + each, 0);
      const balance = balanceOf({ totalMinor, paidMinor, creditedMinor });
      expect(balance + paidMinor + creditedMinor).toBe(totalMinor);
    }),
  );
});
