import {
  answerTo,
  isOneClick,
  kindOfIncoming,
  messageIdsIn,
  readDeliveryStatus,
  type IncomingMessage,
} from '.';

// The examples of the RFCs are written from memory of the published texts; only folding and case were kept from them.

describe('delivery reports, RFC 3464 appendix E', () => {
  test('E.1: a simple report of one that failed', () => {
    const body = [
      'Reporting-MTA: dns; cs.utk.edu',
      '',
      'Original-Recipient: rfc822;louisl@larry.slip.umd.edu',
      'Final-Recipient: rfc822;louisl@larry.slip.umd.edu',
      'Action: failed',
      'Status: 4.0.0',
      'Diagnostic-Code: smtp; 426 connection timed out',
      'Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400',
    ].join('\r\n');
    expect(readDeliveryStatus(body)).toEqual([
      {
        address: 'louisl@larry.slip.umd.edu',
        status: '4.0.0',
        isFinal: false,
        diagnostic: '426 connection timed out',
      },
    ]);
  });

  test('E.2: several recipients, of whom two failed for good and one was delivered', () => {
    const body = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;arathib@vnet.ibm.com
Final-Recipient: rfc822;arathib@vnet.ibm.com
Action: failed
Status: 5.0.0 (permanent failure)
Diagnostic-Code: smtp;
 550 'arathib@vnet.IBM.COM' is not a registered gateway user
Remote-MTA: dns; vnet.ibm.com

Original-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Final-Recipient: rfc822;johnh@hpnjld.njd.hp.com
Action: delayed
Status: 4.0.0 (hpnjld.njd.jp.com: host name lookup failure)

Original-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Final-Recipient: rfc822;wsnell@sdcc13.ucsd.edu
Action: failed
Status: 5.0.0
Diagnostic-Code: smtp; 550 user unknown
Remote-MTA: dns; sdcc13.ucsd.edu
`;
    expect(readDeliveryStatus(body).map(({ address, isFinal }) => [address, isFinal])).toEqual([
      ['arathib@vnet.ibm.com', true],
      ['johnh@hpnjld.njd.hp.com', false],
      ['wsnell@sdcc13.ucsd.edu', true],
    ]);
    expect(readDeliveryStatus(body)[0]!.diagnostic).toBe(
      "550 'arathib@vnet.IBM.COM' is not a registered gateway user",
    );
  });

  test('E.4: a delay says nothing final', () => {
    const body = `Reporting-MTA: dns; sun2.nsfnet-relay.ac.uk

Final-Recipient: rfc822;thomas@de-montfort.ac.uk
Status: 4.0.0 (unknown temporary failure)
Action: delayed
`;
    expect(readDeliveryStatus(body)).toMatchObject([{ address: 'thomas@de-montfort.ac.uk', isFinal: false }]);
  });

  test('a full mailbox passes (RFC 3463, X.2.2)', () => {
    const body =
      'Reporting-MTA: dns; a.example\n\nFinal-Recipient: rfc822;a@b.example\nAction: failed\nStatus: 5.2.2';
    expect(readDeliveryStatus(body)[0]!.isFinal).toBe(false);
  });
});

describe('threads, RFC 5322 appendix A.2', () => {
  const first = { messageId: '<1234@local.machine.example>', references: [], inReplyTo: [] };
  test('the answer names its parent', () => {
    expect(answerTo(first)).toEqual({
      inReplyTo: '<1234@local.machine.example>',
      references: ['<1234@local.machine.example>'],
    });
  });
  test('the answer to the answer names both', () => {
    const second = { messageId: '<3456@example.net>', ...answerTo(first), inReplyTo: [first.messageId] };
    expect(answerTo(second)).toEqual({
      inReplyTo: '<3456@example.net>',
      references: ['<1234@local.machine.example>', '<3456@example.net>'],
    });
  });
  test('ids are read out of folded headers', () => {
    expect(messageIdsIn('<1234@local.machine.example>\r\n <3456@example.net>', null)).toEqual([
      '<1234@local.machine.example>',
      '<3456@example.net>',
    ]);
  });
});

describe('automatic answers, RFC 3834', () => {
  const kindWith = (headers: Record<string, string>, part: Partial<IncomingMessage> = {}) =>
    kindOfIncoming({
      headers: new Map(Object.entries(headers)),
      subject: 'Re: your note',
      text: 'Thank you.',
      envelopeFrom: 'them@firm.example',
      deliveryStatus: null,
      ...part,
    }).kind;
  test.each([
    // Section 5.1: the keywords and a parameter after one.
    ['auto-replied', 'automatic'],
    ['auto-generated', 'automatic'],
    ['auto-replied; owner-email="them@firm.example"', 'automatic'],
    ['no', 'human'],
    ['No', 'human'],
  ])('Auto-Submitted: %s', (value, kind) => {
    expect(kindWith({ 'auto-submitted': value })).toBe(kind);
  });
  test('section 3.1.5: the subject of a vacation answer', () => {
    expect(
      kindWith({ 'auto-submitted': 'auto-replied' }, { subject: 'Auto: your note', text: 'I am away.' }),
    ).toBe('out-of-office');
  });
  test('section 2: nothing automatic comes from a person, and the null sender is no person', () => {
    expect(kindWith({}, { envelopeFrom: '' })).toBe('automatic');
  });
});

test('RFC 8058, section 8: the body of a one-click request', () => {
  const fields = Object.fromEntries(new URLSearchParams('List-Unsubscribe=One-Click'));
  expect(isOneClick(fields)).toBe(true);
  expect(isOneClick({})).toBe(false);
});
