import fc from 'fast-check';
import {
  absenceUntil,
  answerTo,
  bareSubject,
  kindOfIncoming,
  readDeliveryStatus,
  type IncomingMessage,
} from '.';

const messageOf = (
  part: Partial<IncomingMessage> & { heads?: Record<string, string> } = {},
): IncomingMessage => ({
  subject: 'Re: softener',
  text: 'Sounds good, call me.',
  envelopeFrom: 'ines@fen.example',
  deliveryStatus: null,
  ...part,
  headers: new Map(Object.entries(part.heads ?? {})),
});

describe('what a message is', () => {
  test.each<[string, Parameters<typeof messageOf>[0], string]>([
    ['a person’s answer', {}, 'human'],
    [
      'a person who writes of being away next week',
      { text: 'I am out of office next week, call me then' },
      'human',
    ],
    [
      'an automatic reply of one who is away',
      { heads: { 'auto-submitted': 'auto-replied' }, subject: 'Automatic reply: softener' },
      'out-of-office',
    ],
    ['one of old style', { subject: 'Out of Office: softener' }, 'out-of-office'],
    [
      'one that says so in its text only',
      { heads: { 'x-autoreply': 'yes' }, text: 'I am on annual leave until 4 December.' },
      'out-of-office',
    ],
    [
      'a ticket system’s thanks',
      { heads: { 'auto-submitted': 'auto-replied' }, text: 'We have your message.' },
      'automatic',
    ],
    ['a newsletter', { heads: { precedence: 'bulk' } }, 'automatic'],
    ['a list', { heads: { 'list-id': '<bakers.example>' } }, 'automatic'],
    [
      'a return without a report',
      { heads: { from: 'MAILER-DAEMON@fen.example' }, subject: 'Undelivered Mail Returned to Sender' },
      'bounce',
    ],
    [
      'a bounce’s subject from a person',
      { subject: 'Undelivered parcels', heads: { from: 'ines@fen.example' } },
      'human',
    ],
    ['a request to be let alone', { text: 'Unsubscribe' }, 'unsubscribe'],
    ['one by the address given for it', { subject: 'unsubscribe 12ab', text: '' }, 'unsubscribe'],
    [
      'a delivery that takes longer',
      {
        deliveryStatus:
          'Reporting-MTA: dns; x\n\nFinal-Recipient: rfc822;a@b.example\nAction: delayed\nStatus: 4.4.1',
      },
      'bounce',
    ],
  ])('%s', (_, part, kind) => {
    expect(kindOfIncoming(messageOf(part)).kind).toBe(kind);
  });

  test('a delivery that takes longer is not final, a return without a report is', () => {
    const delayed =
      'Reporting-MTA: dns; x\n\nFinal-Recipient: rfc822;a@b.example\nAction: delayed\nStatus: 4.4.1';
    expect(kindOfIncoming(messageOf({ deliveryStatus: delayed }))).toMatchObject({ isFinal: false });
    const returned = messageOf({ envelopeFrom: '', subject: 'Mail delivery failed' });
    expect(kindOfIncoming(returned)).toMatchObject({ kind: 'bounce', isFinal: true });
  });
});

describe('until when somebody is away, written on Tuesday 24 November 2026', () => {
  test.each([
    ['I am out of the office until 4 December.', '2026-12-04'],
    ['Back on Monday 7 December 2026.', '2026-12-06'],
    ['I will return to the office on 30 November', '2026-11-29'],
    ['away from 25 November to 2 December, with no mail', '2026-12-02'],
    ['On leave through 27/11/2026', '2026-11-27'],
    ['I am away. In urgent cases call the desk.', null],
    ['I was back on 3 November', null],
    ['We were founded in 1890. Out of office.', null],
    ['I am away until 4 December. My letter of 20 November answers most questions.', '2026-12-04'],
  ])('%s', (text, until) => {
    expect(absenceUntil(text, '2026-11-24')).toBe(until);
  });
});

test('text of any kind is read without an error', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), (text) => {
      readDeliveryStatus(text);
      const until = absenceUntil(text, '2026-11-24');
      expect(until === null || until >= '2026-11-24').toBe(true);
    }),
  );
});

describe('threads', () => {
  test('a long one keeps its first and its latest ids', () => {
    const references = Array.from({ length: 40 }, (_, n) => `<${n}@a.example>`);
    const next = answerTo({ messageId: '<new@a.example>', references, inReplyTo: [] });
    expect(next.references).toHaveLength(20);
    expect([next.references[0], next.references.at(-1)]).toEqual(['<0@a.example>', '<new@a.example>']);
  });
  test.each([
    ['Re: AW: Fwd: softener', 'softener'],
    ['re[2]: softener', 'softener'],
    ['Regarding the softener', 'Regarding the softener'],
  ])('“%s” is shown as “%s”', (subject, bare) => {
    expect(bareSubject(subject)).toBe(bare);
  });
});
