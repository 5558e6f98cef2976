/**
 * Held against Unicode's CLDR 44 and later, as the runtime has it (read by hand from its charts: en-GB, en-US, de-DE, de-CH, fr-FR,
 * sv-SE, pt-BR), against ITU E.123 for what a number with its country's code looks like, and against ISO 4217 as `currency-codes` has it.
 */
import { data as currencyList } from 'currency-codes';
import fc from 'fast-check';
import { readCustomValue, sayCustomValue } from '../fields';
import { placesOf, readMoney, sayMoney, sayMoneyInFull, writeMoney } from '../money';
import { sayPhone } from '../phone';
import { sayDate, sayMinute, sayShortDay } from '../time';
import {
  dateFormat,
  is12Hours,
  isMonthFirst,
  localeOf,
  numberFormat,
  readNumber,
  sayCount,
  sayPercent,
  writeAs,
  writeNumber,
} from '.';

const inCountry = <T>(country: string, act: () => T): T => {
  writeAs(() => localeOf(country));
  const result = act();
  writeAs(() => 'en-GB');
  return result;
};

/** Spaces that do not break are spaces to the eye; Unicode changed which apostrophe the Swiss write. */
const plain = (text: string) => text.replace(/[\u00a0\u202f]/g, ' ').replaceAll('’', "'");

test.each([
  ['GB', '12,345.6', '£12,346', 'Fri 27 Nov', '14:05', '30 %'],
  ['IE', '12,345.6', '£12,346', 'Fri 27 Nov', '14:05', '30 %'],
  ['US', '12,345.6', '£12,346', 'Fri Nov 27', '2:05 PM', '30 %'],
  ['DE', '12.345,6', '12.346 £', 'Fri 27 Nov', '14:05', '30 %'],
  ['CH', "12'345.6", "£ 12'346", 'Fri 27 Nov', '14:05', '30 %'],
  ['FR', '12 345,6', '12 346 £GB', 'Fri 27 Nov', '14:05', '30 %'],
  ['SE', '12 345,6', '12 346 GBP', 'Fri 27 Nov', '14:05', '30 %'],
  ['BR', '12.345,6', '£ 12.346', 'Fri 27 Nov', '14:05', '30 %'],
])('in %s a number is %s, money %s, a day %s, a time %s', (country, number, money, day, time, share) => {
  const said = inCountry(country, () => [
    numberFormat({ maximumFractionDigits: 1 }).format(12_345.6),
    sayMoney(1_234_560, 'GBP'),
    sayDate('2026-11-27', '2026-11-24'),
    sayMinute(14 * 60 + 5),
    sayPercent(0.3),
  ]);
  expect(said.map(plain)).toEqual([number, money, day, time, share]);
});

test.each([
  ['GB', false, false],
  ['US', true, true],
  ['AU', true, false],
  ['DE', false, false],
  // English has no habits of its own there, and would be written as in the United States.
  ['BR', false, false],
  ['KR', true, true],
])('in %s hours are counted to 12: %s, the month stands first: %s', (country, twelve, month) => {
  expect([is12Hours(localeOf(country)), isMonthFirst(localeOf(country))]).toEqual([twelve, month]);
});

test.each([
  ['GB', 'GBP', '4,400', 440_000],
  ['GB', 'GBP', '£4,400.50', 440_050],
  ['GB', 'GBP', '4400 GBP', 440_000],
  ['GB', 'GBP', '1.234,50', 123_450],
  ['GB', 'GBP', '0,9', 90],
  // One thousand, two hundred, or a bit more than one: nobody can know.
  ['GB', 'GBP', '1.234', null],
  ['GB', 'GBP', '1,23,456', null],
  ['GB', 'GBP', '12.5k', 1_250_000],
  ['GB', 'GBP', '1.2345k', 123_450],
  // Another currency's sign makes it another amount.
  ['GB', 'GBP', '€4,400', null],
  ['GB', 'EUR', '€4,400', 440_000],
  ['GB', 'USD', 'US$ 4,400', 440_000],
  ['GB', 'AUD', '$4,400', 440_000],
  ['GB', 'EUR', '$4,400', null],
  ['DE', 'EUR', '4.400', 440_000],
  ['DE', 'EUR', '4.400,50 €', 440_050],
  ['DE', 'EUR', '4.400,- €', 440_000],
  ['DE', 'EUR', 'EUR 4.400,–', 440_000],
  ['DE', 'EUR', '4,400', null],
  ['DE', 'EUR', '4400.50', 440_050],
  ['DE', 'EUR', '12,5k', 1_250_000],
  ['NL', 'EUR', '€ 4.400,--', 440_000],
  ['CH', 'CHF', '4’400.50', 440_050],
  ['CH', 'CHF', "CHF 4'400.50", 440_050],
  ['CH', 'CHF', "Fr. 4'400.–", 440_000],
  ['FR', 'EUR', '4 400,50 €', 440_050],
  ['SE', 'SEK', '4 400 kr', 440_000],
  ['DK', 'DKK', '4.400,50 kr.', 440_050],
  ['PL', 'PLN', '4 400,50 zł', 440_050],
  ['CZ', 'CZK', '4 400 Kč', 440_000],
  ['BR', 'BRL', 'R$ 4.400,50', 440_050],
  ['US', 'USD', '$4,400', 440_000],
  ['IN', 'INR', '₹1,00,000', 10_000_000],
  ['IN', 'INR', '100,000', 10_000_000],
  ['JP', 'JPY', '￥440,000', 440_000],
  ['JP', 'JPY', '¥4,400.50', null],
  ['JP', 'JPY', '12.5k', 12_500],
  ['KW', 'KWD', 'KWD 1,234.567', 1_234_567],
  ['KW', 'KWD', '4.5', 4500],
  ['IS', 'ISK', '44.000 kr.', 44_000],
])('in %s, in %s, %j is an amount of %j', (country, currency, typed, minor) => {
  expect(inCountry(country, () => readMoney(typed, currency))).toBe(minor);
});

test('minor units are those of ISO 4217, as the package currency-codes has the standard’s list', () => {
  const differ = currencyList
    // Metals, funds and units of account have none ("N.A."), which the package writes as 0: nothing is sold in them.
    .filter(({ code, digits }) => !/^X(?![AOP]F$)/.test(code) && placesOf(code) !== digits)
    .map(({ code, digits }) => `${code}: ${placesOf(code)} here, ${digits} there`);
  expect(currencyList.length).toBeGreaterThan(150);
  expect(differ).toEqual([]);
});

const countries = fc.constantFrom(
  'GB',
  'US',
  'DE',
  'CH',
  'FR',
  'SE',
  'BR',
  'IN',
  'ZA',
  'PL',
  'JP',
  'EG',
  'SA',
  'IR',
);
const currencies = fc.constantFrom('GBP', 'EUR', 'USD', 'JPY', 'KWD', 'CHF', 'SEK', 'ISK', 'CLF', 'XXX');

test('what is written into a field is read back as the same, in every country and currency', () => {
  fc.assert(
    fc.property(countries, currencies, fc.integer({ min: 0, max: 1e12 }), (country, currency, minor) => {
      inCountry(country, () => {
        expect(readMoney(writeMoney(minor, currency), currency)).toBe(minor);
        expect(readMoney(sayMoneyInFull(minor, currency), currency)).toBe(minor);
        expect(readNumber(writeNumber(-minor / 1000))?.value).toBeCloseTo(-minor / 1000, 6);
        expect(readNumber(numberFormat({ maximumFractionDigits: 3 }).format(minor))?.value).toBe(minor);
      });
    }),
  );
});

test('counts have the form of their number, and thousands are parted', () => {
  expect([0, 1, 2, 1200].map((count) => sayCount(count, 'try|tries'))).toEqual([
    '0 tries',
    '1 try',
    '2 tries',
    '1,200 tries',
  ]);
  expect(inCountry('DE', () => sayCount(1200, 'day|days'))).toBe('1.200 days');
});

// CLDR's plural rules: Polish has one, few, many and other (of fractions), Arabic all six, Japanese one form.
test.each([
  ['PL', 'pl', 'osoba|osoby|osób|osoby', ['1 osoba', '3 osoby', '5 osób', '22 osoby']],
  ['EG', 'ar', 'zero|one|two|few|many|other', ['1 one', '3 few', '5 few', '22 many']],
  ['JP', 'ja', '人', ['1 人', '3 人', '5 人', '22 人']],
])('in %s a text in %s has the forms of its language', (country, language, forms, said) => {
  writeAs(() => localeOf(country, language));
  const counts = [1, 3, 5, 22].map((count) => sayCount(count, forms));
  writeAs(() => 'en-GB');
  expect(counts).toEqual(said);
});

test('whoever reads German in Britain reads German words and British figures', () => {
  writeAs(() => localeOf('GB', 'de'));
  const said = [
    numberFormat().format(1234.5),
    dateFormat({ month: 'long', timeZone: 'UTC' }).format(Date.UTC(2026, 11, 3)),
  ];
  writeAs(() => 'en-GB');
  expect(said).toEqual(['1,234.5', 'Dezember']);
});

test('the days near by have their names everywhere', () => {
  const said = inCountry('US', () =>
    ['2026-11-24', '2026-11-27', '2027-01-04'].map((day) => sayShortDay(day, '2026-11-24')),
  );
  expect(said).toEqual(['today', 'Friday', 'Mon Jan 4, 2027']);
});

test.each([
  ['+441632960123', 'GB', '01632 960123'],
  ['+441632960123', 'DE', '+44 1632 960123'],
  ['+441632960123', null, '+44 1632 960123'],
  ['+12015550123', 'US', '(201) 555-0123'],
  ['not a number', 'GB', 'not a number'],
])('the number %s, to a reader in %s, is %s', (number, country, words) => {
  expect(sayPhone(number, country)).toBe(words);
});

test('a field of one’s own that was written is read back as the same, to the last place', () => {
  fc.assert(
    fc.property(countries, currencies, fc.integer({ min: 0, max: 1e9 }), (country, currency, minor) => {
      const field = { type: 'money' as const, choices: [] };
      const again = inCountry(country, () =>
        readCustomValue(sayCustomValue(minor, 'money', currency), field, currency),
      );
      expect(again).toEqual({ kind: 'read', value: minor });
    }),
  );
});
