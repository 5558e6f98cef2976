import fc from 'fast-check';
import { splitName } from '.';

test.each([
  ['Maud Ellery', null, 'Maud', 'Ellery'],
  ['Maud Ann Ellery', 'GB', 'Maud Ann', 'Ellery'],
  ['Ellery, Maud Ann', 'GB', 'Maud Ann', 'Ellery'],
  ['Joris van der Baan', 'NL', 'Joris', 'van der Baan'],
  ['Ludwig von Linde', 'DE', 'Ludwig', 'von Linde'],
  ['Inés Prado Luna', 'ES', 'Inés', 'Prado Luna'],
  ['Inés María Prado Luna', 'ES', 'Inés María', 'Prado Luna'],
  ['Inés Prado', 'ES', 'Inés', 'Prado'],
  ['Marta de la Vega', 'ES', 'Marta', 'de la Vega'],
  ['Maud', null, 'Maud', ''],
  ['  ', null, '', ''],
  // A particle that nothing follows is a name.
  ['Anna Le', null, 'Anna', 'Le'],
])('%s (%s) is %s and %s', (full, country, givenName, familyName) => {
  expect(splitName(full, country)).toEqual({ givenName, familyName });
});

test('no word is lost or turned round where there is no comma', () => {
  const name = fc.array(fc.stringMatching(/^[A-Za-zé'-]{1,8}$/), { maxLength: 6 });
  fc.assert(
    fc.property(name, fc.constantFrom('GB', 'ES', null), (words, country) => {
      const { givenName, familyName } = splitName(words.join(' '), country);
      expect([givenName, familyName].filter(Boolean).join(' ')).toBe(words.join(' '));
    }),
  );
});
