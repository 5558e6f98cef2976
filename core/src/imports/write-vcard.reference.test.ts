import fc from 'fast-check';
import { readVCards } from './vcard';
import { writeVCards, type Card } from './write-vcard';

/** RFC 6350 and RFC 2426, sections named beside each check. */
const maud: Card = {
  ...{ uid: '01938f6c-0000-7000-8000-000000000001', changedAt: '2026-11-24T09:00:00.000Z', isFirm: false },
  ...{
    name: 'Maud Ellery',
    givenName: 'Maud',
    familyName: 'Ellery',
    company: 'Penrow Laundry',
    jobTitle: 'owner',
  },
  points: [
    { kind: 'email', value: 'maud@penrow.example' },
    { kind: 'email', value: 'office@penrow.example' },
    { kind: 'phone', value: '+441632960123' },
    { kind: 'link', value: 'https://penrow.example/' },
  ],
  ...{ street: '1, Mill Lane', postcode: 'MD1 4AA', city: 'Marrowdale', country: 'United Kingdom' },
  ...{ note: 'Prefers mornings;\nrings back, always', tags: ['steam', 'north, far'] },
};
const linesOf = (text: string) => text.replaceAll('\r\n ', '').split('\r\n');

test('RFC 6350: begins, has its version second, and ends; each line ends with CRLF (3.2, 6.7.9)', () => {
  const lines = linesOf(writeVCards([maud], 'vcard-4'));
  expect(lines.slice(0, 2)).toEqual(['BEGIN:VCARD', 'VERSION:4.0']);
  expect(lines.slice(-2)).toEqual(['END:VCARD', '']);
});

test('RFC 6350: names and addresses in parts with marks escaped (3.4, 6.2.2, 6.3.1), the preferred one marked (5.3), numbers as addresses (6.4.1)', () => {
  expect(linesOf(writeVCards([maud], 'vcard-4'))).toEqual(
    expect.arrayContaining([
      'N:Ellery;Maud;;;',
      'EMAIL;PREF=1:maud@penrow.example',
      'EMAIL:office@penrow.example',
      expect.stringMatching(/^TEL(;VALUE=URI)?:tel:\+441632960123$/i),
      'ADR:;;1\\, Mill Lane;Marrowdale;;MD1 4AA;United Kingdom',
      'CATEGORIES:steam,north\\, far',
      expect.stringMatching(/^NOTE:Prefers mornings\\?;\\nrings back\\, always$/),
      'REV:20261124T090000Z',
    ]),
  );
});

test('RFC 2426: a name in parts of everybody (3.1.2), a preferred type (3.2.1, 3.3.2), no kind', () => {
  const lines = linesOf(
    writeVCards(
      [{ ...maud, isFirm: true, name: 'Penrow Laundry', givenName: '', familyName: '' }],
      'vcard-3',
    ),
  );
  expect(lines).toEqual(
    expect.arrayContaining([
      'VERSION:3.0',
      'N:;;;;',
      'EMAIL;TYPE=pref:maud@penrow.example',
      'TEL:+441632960123',
    ]),
  );
  expect(lines.some((line) => line.startsWith('KIND'))).toBe(false);
});

test('RFC 6350: a firm says so (6.1.4)', () => {
  const lines = linesOf(writeVCards([{ ...maud, isFirm: true, name: 'Penrow Laundry' }], 'vcard-4'));
  expect(lines).toEqual(expect.arrayContaining(['KIND:org', 'FN:Penrow Laundry']));
});

test('RFC 6350: no line is longer than 75 octets, none is cut inside a character (3.2), and what is read is what was written', () => {
  const words = fc.string({ unit: 'grapheme', maxLength: 120 });
  fc.assert(
    fc.property(words, words, fc.constantFrom('vcard-3' as const, 'vcard-4' as const), (given, note, as) => {
      const text = writeVCards([{ ...maud, givenName: given, note }], as);
      for (const line of text.split('\r\n'))
        expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
      const { cards, unreadable } = readVCards(text);
      expect(unreadable).toEqual([]);
      expect(cards[0]!.raw.note).toBe(note.trim());
      expect(cards[0]!.raw.familyName).toBe('Ellery');
    }),
    { numRuns: 300 },
  );
});
