import type { CustomField, CustomFieldType, CustomValue } from '@kettle/contract';
import fc from 'fast-check';
import { carriedOver, judgeCustomValue, readCustomValue, sayCustomValue } from '.';

const field = (type: CustomFieldType) => ({ type, choices: ['Gas', 'Oil', 'Électric'] });

test.each<[CustomFieldType, string, CustomValue]>([
  ['text', ' two boilers ', 'two boilers'],
  ['number', '1,250', 1250],
  ['number', '-3.5', -3.5],
  ['money', '£4,400', 440_000],
  ['date', '2026-11-24', '2026-11-24'],
  ['date', '24/11/2026', '2026-11-24'],
  ['date', '1.2.2026', '2026-02-01'],
  ['choice', 'gas', 'Gas'],
  ['choice', 'electric', 'Électric'],
  ['yes-no', 'Yes', true],
  ['yes-no', '0', false],
  ['link', 'https://firm.example/a', 'https://firm.example/a'],
  ['text', '', null],
])('a %s typed as %j', (type, text, value) => {
  expect(readCustomValue(text, field(type), 'GBP')).toEqual({ kind: 'read', value });
});

test.each<[CustomFieldType, string, RegExp]>([
  ['number', 'many', /not a number/],
  ['money', 'lots', /not an amount/],
  ['date', '31/02/2026', /not a date/],
  ['date', '2026-13-01', /not a date/],
  ['choice', 'coal', /none of Gas, Oil/],
  ['yes-no', 'perhaps', /neither yes nor no/],
  ['link', 'javascript:alert(1)', /not a web address/],
  ['link', 'firm', /not a web address/],
  ['person', 'Maud', /choose a contact/],
])('a %s typed as %j is refused with what to do', (type, text, reason) => {
  const read = readCustomValue(text, field(type), 'GBP');
  expect(read.kind === 'wrong' && read.reason).toMatch(reason);
});

test('a value of another type does not fit', () => {
  expect(judgeCustomValue('12', field('number'))).toMatch(/another type/);
  expect(judgeCustomValue(12.5, field('money'))).toMatch(/whole number/);
  expect(judgeCustomValue(12, field('money'))).toBeNull();
  expect(judgeCustomValue('coal', field('choice'))).toMatch(/none of/);
  expect(judgeCustomValue(null, field('date'))).toBeNull();
});

test('what is said is read as the same value again', () => {
  const values = fc.oneof(
    fc.integer({ min: 0, max: 90_000_000 }).map((value) => ['money', value * 100] as const),
    fc.integer({ min: -1e9, max: 1e9 }).map((value) => ['number', value] as const),
    fc.boolean().map((value) => ['yes-no', value] as const),
    fc.constantFrom('Gas', 'Oil').map((value) => ['choice', value] as const),
  );
  fc.assert(
    fc.property(values, ([type, value]) => {
      expect(readCustomValue(sayCustomValue(value, type, 'GBP'), field(type), 'GBP')).toEqual({
        kind: 'read',
        value,
      });
    }),
  );
});

test('a value is carried over to the field of the same name and type that it fits', () => {
  const named = (id: string, name: string, type: CustomFieldType, choices: string[] = []) =>
    ({ id, name, type, choices }) as Pick<CustomField, 'id' | 'name' | 'type' | 'choices'>;
  const lead = [
    named('l1', 'Boilers', 'number'),
    named('l2', 'Fuel', 'choice', ['Gas', 'Wood']),
    named('l3', 'Seen', 'yes-no'),
    named('l4', 'Site', 'text'),
  ];
  const deal = [
    named('d1', ' boilers ', 'number'),
    named('d2', 'Fuel', 'choice', ['Gas', 'Oil']),
    named('d3', 'Seen', 'text'),
    named('d4', 'Site', 'text'),
  ];
  const over = (values: Record<string, CustomValue>) => carriedOver(lead, values, deal);
  expect(over({ l1: 3, l2: 'Gas', l3: true })).toEqual({ d1: 3, d2: 'Gas' });
  // A choice that is none there, another type, and nothing: each stays where it is.
  expect(over({ l1: 0, l2: 'Wood', l3: false, l4: null })).toEqual({ d1: 0 });
});
