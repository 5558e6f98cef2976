import fc from 'fast-check';
import {
  absenceUntil,
  answerTo,
  bareSubject,
  dealsMeant,
  hasFailedForGood,
  kindOfIncoming,
  readDeliveryStatus,
  readPlainReturn,
  type IncomingMessage,
} from '.';

const messageOf = (
  part: Partial<IncomingMessage> & { heads?: Record<string, string> } = {},
): IncomingMessage => ({
  subject: 'Re: softener',
  text: 'Sounds good, call me.',
  newWords: part.text ?? 'Sounds good, call me.',
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
      {
        heads: { 'auto-submitted': 'auto-replied' },
        subject: 'Automatic reply: softener',
        text: 'I am away until Friday.',
      },
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
    ['one by the address given for it', { subject: 'unsubscribe 12ab34cd', text: '' }, 'unsubscribe'],
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

  test.each([
    ['of one that is delivered in the end', 'delivered', '2.0.0'],
    ['of one that is handed on', 'relayed', '2.0.0'],
  ])('a report %s is no bounce', (_, action, status) => {
    const deliveryStatus = `Reporting-MTA: dns; x\n\nFinal-Recipient: rfc822;a@b.example\nAction: ${action}\nStatus: ${status}`;
    expect(kindOfIncoming(messageOf({ deliveryStatus, subject: 'Delivery Status Notification' }))).toEqual({
      kind: 'automatic',
    });
  });
});

describe('whose address has failed for good', () => {
  const failedWith = (fields: string) =>
    hasFailedForGood(readDeliveryStatus(`Reporting-MTA: dns; x\n\n${fields}`), 'A@b.example');

  test.each([
    ['no such mailbox', 'Action: failed\nStatus: 5.1.1', true],
    ['a domain that takes no mail (RFC 7505)', 'Action: failed\nStatus: 5.1.10', true],
    ['one that takes longer', 'Action: delayed\nStatus: 4.4.1', false],
    ['a full mailbox', 'Action: failed\nStatus: 5.2.2', false],
    ['a rule of theirs', 'Action: failed\nStatus: 5.7.1', false],
    ['given up after trying for long', 'Action: failed\nStatus: 4.4.7', false],
    [
      'a code of its own, held against the sender',
      'Action: failed\nStatus: 5.1.1\nDiagnostic-Code: smtp; 550 blocked for spam',
      false,
    ],
    ['no more than that it failed', 'Action: failed\nStatus: 5.0.0', false],
    [
      'the same with what was said',
      'Action: failed\nStatus: 5.0.0\nDiagnostic-Code: smtp; 550 user unknown',
      true,
    ],
  ])('%s', (_, fields, isDead) => {
    expect(failedWith(`Final-Recipient: rfc822;a@b.example\n${fields}`)).toBe(isDead);
  });

  test('only the one the report is about: not who a mail was handed on from unless it says so', () => {
    const failed = 'Final-Recipient: rfc822;other@c.example\nAction: failed\nStatus: 5.1.1';
    expect(failedWith(failed)).toBe(false);
    expect(failedWith(`Original-Recipient: rfc822;a@b.example\n${failed}`)).toBe(true);
  });

  test('a return of the older kind says of each address what became of it', () => {
    const text =
      '<a@b.example>:\nRemote host said: 550 5.1.1 unknown user\n\n<c@d.example>:\nmailbox is full\n';
    const failed = readPlainReturn(text);
    expect(failed.map(({ address, isFinal }) => [address, isFinal])).toEqual([
      ['a@b.example', true],
      ['c@d.example', false],
    ]);
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

describe('which deal of a person a mail means', () => {
  const deals = ['Softener for the bakehouse', 'Boiler treatment', 'Softener for the shop'].map((name) => ({
    name,
  }));
  const first = (subject: string, text = '') => dealsMeant(deals, { subject, text })[0]!.name;

  test.each([
    ['the one its subject names', 'Re: boiler treatment', '', 'Boiler treatment'],
    [
      'the one that differs by a word of the text',
      'Question',
      'About the one in the shop',
      'Softener for the shop',
    ],
    ['the subject more than the text', 'The shop', 'not the bakehouse', 'Softener for the shop'],
    ['without a sign, the first as they came', 'Hello', 'Please ring me', 'Softener for the bakehouse'],
    ['what several share tells nothing', 'The softener', '', 'Softener for the bakehouse'],
  ])('%s', (_, subject, text, name) => {
    expect(first(subject, text)).toBe(name);
  });
});
