import libphonenumber from 'google-libphonenumber';
import fc from 'fast-check';
import reference from 'talisman/metrics/jaro-winkler';
import { jaroWinkler } from '.';
import { readPhone } from '../phone';

describe('Jaro-Winkler', () => {
  // W. E. Winkler, "Overview of Record Linkage and Current Research Directions", US Census Bureau, 2006, table 6.
  test.each([
    ['MARTHA', 'MARHTA', 0.961],
    ['DWAYNE', 'DUANE', 0.84],
    ['DIXON', 'DICKSONX', 0.813],
    ['SHACKLEFORD', 'SHACKELFORD', 0.982],
    ['DUNNINGHAM', 'CUNNIGHAM', 0.896],
    ['NICHLESON', 'NICHULSON', 0.956],
    ['JONES', 'JOHNSON', 0.832],
    ['MASSEY', 'MASSIE', 0.933],
    ['ABROMS', 'ABRAMS', 0.922],
  ])('%s and %s as Winkler published it', (one, other, published) => {
    expect(jaroWinkler(one, other)).toBeCloseTo(published, 2);
    expect(Math.abs(jaroWinkler(one, other) - published)).toBeLessThan(0.0006);
  });

  // The registry's talisman package, written apart from ours, over anything; it gives the prefix no weight up to 0.7.
  test('equals the reference library', () => {
    const word = fc.string({ unit: fc.constantFrom(...'abcde'), minLength: 1, maxLength: 9 });
    fc.assert(
      fc.property(word, word, (one, other) => {
        const theirs = reference(one, other);
        fc.pre(theirs > 0.7);
        expect(jaroWinkler(one, other)).toBeCloseTo(theirs, 10);
      }),
    );
  });
});

describe('telephone numbers', () => {
  // ITU-T E.164: at most 15 digits after the plus; RFC 3966 section 5.1.4 gives the global form without separators.
  test.each([
    ['01632 960123', 'GB', '+441632960123'],
    ['(01632) 960-123', 'GB', '+441632960123'],
    ['+44 (0)1632 960123', 'IE', '+441632960123'],
    ['tel:+44-1632-960123', 'PT', '+441632960123'],
    ['0044 1632 960123', 'GB', '+441632960123'],
    ['020 913 1234', 'IE', '+353209131234'],
  ])('%s in %s is %s', (text, country, e164) => {
    expect(readPhone(text, country)?.e164).toBe(e164);
  });

  // The registry's google-libphonenumber package as a second opinion.
  test.each([
    ['GB', '07700 900123'],
    ['GB', '0113 496 0999'],
    ['NL', '020 123 4567'],
    ['PT', '21 123 4567'],
    ['US', '(202) 555-0143'],
    ['IE', '01 234 5678'],
  ])('reads a number of %s like the reference library: %s', (country, text) => {
    const util = libphonenumber.PhoneNumberUtil.getInstance();
    const theirs = util.format(util.parse(text, country), libphonenumber.PhoneNumberFormat.E164);
    expect(readPhone(text, country)?.e164).toBe(theirs);
  });
});
