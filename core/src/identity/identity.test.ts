import fc from 'fast-check';
import { companyKey, emailKey, nameKey, readPhone } from '.';

test.each([
  ['Zoë O’Keele', 'zoe o keele'],
  ['  MÜLLER & Söhne ', 'muller and sohne'],
  ['São-João', 'sao joao'],
  ['Straße 5', 'straße 5'],
])('%j is searched and compared as %j', (name, key) => {
  expect(nameKey(name)).toBe(key);
});

test.each([
  ['Skell Bakery Ltd.', 'SKELL BAKERY'],
  ['Wasserij Baan B.V.', 'Wasserij Baan'],
  ['Lavandaria do Cais, Lda', 'lavandaria do cais'],
  ['Kilmoran House Teo', 'Kilmoran House'],
  ['Harker & Daughter', 'Harker and Daughter'],
])('%j and %j are one firm', (one, other) => {
  expect(companyKey(one)).toBe(companyKey(other));
});

test('a firm whose name is only a legal form keeps it', () => {
  expect(companyKey('Limited')).toBe('limited');
});

test('keys are settled: a key of a key is the key', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (text) => {
      expect(nameKey(nameKey(text))).toBe(nameKey(text));
      expect(emailKey(emailKey(text))).toBe(emailKey(text));
    }),
  );
});

test.each([
  ['01632 960 123', 'GB', '+441632960123', 'GB'],
  ['+353 20 910 1234', 'GB', '+353209101234', 'IE'],
  // Kept for fiction, a number belongs to no country of its calling code.
  ['0044 1632 960123', 'GB', '+441632960123', null],
  ['020 910 1234', 'IE', '+353209101234', 'IE'],
])('%j written in %s is %s', (text, country, e164, found) => {
  expect(readPhone(text, country)).toEqual({ e164, country: found });
});

test.each(['12', 'call me', '', '+999 1', '0'.repeat(40)])('%j is no number', (text) => {
  expect(readPhone(text, 'GB')).toBeNull();
});
