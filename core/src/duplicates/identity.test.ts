import fc from 'fast-check';
import {
  companyDomain,
  companyKey,
  compareContacts,
  compareNames,
  editDistance,
  emailKey,
  firmKey,
  type Identity,
  isSharedMailbox,
  nameKey,
} from '.';
import { readPhone } from '../phone';

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
  expect(readPhone(text, country)).toEqual({ e164, country: found, isMobile: false });
});

test.each(['12', 'call me', '', '+999 1', '0'.repeat(40)])('%j is no number', (text) => {
  expect(readPhone(text, 'GB')).toBeNull();
});

test.each([
  ['Liz', 'Elizabeth', true],
  ['Elizabeth', 'Liz', true],
  ['Ned', 'Ted', false],
  ['Pat', 'Patricia', true],
])('%s and %s: one called by a short form: %s', (one, other, isOne) => {
  const called = (givenName: string) => ({ givenName, familyName: 'Garth' });
  expect(compareNames(called(one), called(other)) === 'same').toBe(isOne);
});

test.each([
  ['Müller GmbH & Co. KG', 'Mueller'],
  ['Panaderos Ríos, S.L.U.', 'panaderos rios'],
  ['The Stone Clinic', 'Stone Clinic Ltd'],
  ['Pralnia Żak Sp. z o.o.', 'Pralnia Zak'],
  ['Wren Laundry Pty Ltd', 'WREN LAUNDRY'],
  ['Forno Ferri S.r.l.', 'Forno Ferri'],
])('%j and %j are compared as one firm', (one, other) => {
  expect(firmKey(one)).toBe(firmKey(other));
});

test('a distance of letters is the same both ways, and none only to itself', () => {
  const word = fc.string({ unit: fc.constantFrom(...'abc'), maxLength: 6 });
  fc.assert(
    fc.property(word, word, (one, other) => {
      const away = editDistance(one, other);
      expect(editDistance(other, one)).toBe(away);
      expect(away === 0).toBe(one === other);
      expect(away).toBeGreaterThanOrEqual(Math.abs(one.length - other.length));
      expect(away).toBeLessThanOrEqual(Math.max(one.length, other.length));
    }),
  );
});

test.each([
  ['info@penrow.example', true],
  ['Buchhaltung@hald.example', true],
  ['sales.uk@wain.example', true],
  ['maud@penrow.example', false],
  ['m.ferri@ferri.example', false],
])('%s is read by several people: %s', (address, isShared) => {
  expect(isSharedMailbox(address)).toBe(isShared);
});

describe('comparing contacts', () => {
  const maud: Identity = {
    givenName: 'Maud',
    familyName: 'Ellery',
    companies: ['Penrow Laundry Ltd'],
    emails: ['maud@penrow.example'],
    phones: ['+441632960123', '+447700900123'],
  };
  const somebody = (part: Partial<Identity>): Identity => ({
    ...maud,
    companies: [],
    emails: [],
    phones: [],
    ...part,
  });

  test.each<[string, Partial<Identity>, string]>([
    ['the same address and name', { emails: ['MAUD@penrow.example'] }, 'certain'],
    [
      'the same address under quite another name',
      { givenName: 'Theo', familyName: 'Quill', emails: maud.emails },
      'likely',
    ],
    ['the same number of a firm and name', { phones: ['+441632960123'] }, 'likely'],
    ['the same mobile and name', { phones: ['+447700900123'] }, 'certain'],
    [
      'one number of a firm, two people',
      { givenName: 'Theo', familyName: 'Quill', phones: ['+441632960123'] },
      'unlikely',
    ],
    ['a misspelt name at the same firm', { familyName: 'Elery', companies: ['PENROW LAUNDRY'] }, 'likely'],
    ['an initial at the same firm', { givenName: 'M.', companies: ['Penrow Laundry'] }, 'likely'],
    [
      'names swapped at the same firm',
      { givenName: 'Ellery', familyName: 'Maud', companies: ['Penrow Laundry'] },
      'likely',
    ],
    ['the same name and nothing else', {}, 'unlikely'],
    ['a like name at another firm', { familyName: 'Elery', companies: ['Skell Bakery'] }, 'unlikely'],
  ])('%s: %s', (_, part, likeness) => {
    expect(compareContacts(maud, somebody(part)).likeness).toBe(likeness);
    expect(compareContacts(somebody(part), maud).likeness).toBe(likeness);
  });

  test('every likely or certain match says why', () => {
    const { evidence } = compareContacts(maud, somebody({ familyName: 'Elery', phones: maud.phones }));
    expect(evidence.map((each) => each.words)).toEqual([
      'both have +441632960123',
      'Maud Ellery and Maud Elery are alike',
    ]);
  });

  test('a firm is known by its domain, never by a free-mail service', () => {
    expect(companyDomain('ada@mail.skell.co.uk')).toBe('skell.co.uk');
    expect(companyDomain('https://www.skell.co.uk/about')).toBe('skell.co.uk');
    expect(companyDomain('ada@gmail.com')).toBeNull();
    expect(companyDomain('www.skell.co.uk:8443/about')).toBe('skell.co.uk');
    expect(['', 'ada@', 'ada@[10.0.0.1]', 'not a host', 'ada@localhost'].map(companyDomain)).toEqual(
      Array(5).fill(null),
    );
  });

  // Both are in the private part of the public suffix list, https://publicsuffix.org/list/, as tldts ships it.
  test('firms that share a provider’s domain are not one', () => {
    expect(companyDomain('ada@wren.github.io')).toBe('wren.github.io');
    expect(companyDomain('ada@wren.uk.com')).toBe('wren.uk.com');
  });

  // RFC 5891, 4.4; the spelling in ASCII is that of RFC 3492 as the URL standard applies it.
  test('a domain is the same in both its spellings', () => {
    expect(companyDomain('ada@Müller.example')).toBe('xn--mller-kva.example');
    expect(companyDomain('https://www.xn--mller-kva.example/')).toBe('xn--mller-kva.example');
    const free = (name: string) => somebody({ emails: [`${name}@gmail.com`] });
    expect(compareContacts(free('a'), free('b')).evidence.map((each) => each.about)).toEqual(['name']);
  });

  test('the score grows with evidence and stays below one', () => {
    fc.assert(
      fc.property(fc.boolean(), fc.boolean(), (mail, phone) => {
        const less = compareContacts(maud, somebody({ emails: mail ? maud.emails : [] }));
        const more = compareContacts(
          maud,
          somebody({
            emails: mail ? maud.emails : [],
            phones: phone ? maud.phones : [],
            companies: maud.companies,
          }),
        );
        expect(more.score).toBeGreaterThanOrEqual(less.score);
        expect(more.score).toBeLessThan(1);
      }),
    );
  });
});
