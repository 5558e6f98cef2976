import {
  answerTo,
  isOneClick,
  kindOfIncoming,
  judgeProof,
  messageIdsIn,
  readAuthenticationResults,
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
        sentTo: 'louisl@larry.slip.umd.edu',
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
      newWords: part.text ?? 'Thank you.',
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

describe('RFC 8601, appendix B (from memory of the published text)', () => {
  test('B.2: nothing was checked', () => {
    expect(readAuthenticationResults('example.org 1; none')).toEqual({ server: 'example.org', results: [] });
  });
  test('B.3: a service provided, one check', () => {
    expect(readAuthenticationResults('example.com;\r\n spf=pass smtp.mailfrom=example.net')).toEqual({
      server: 'example.com',
      results: [{ method: 'spf', result: 'pass', properties: { 'smtp.mailfrom': 'example.net' } }],
    });
  });
  test('B.4: several checks, one with comments', () => {
    const read = readAuthenticationResults(
      'example.com;\r\n auth=pass (cram-md5) smtp.auth=sender@example.net;\r\n spf=pass smtp.mailfrom=example.net',
    );
    expect(read?.results.map(({ method, result }) => `${method}=${result}`)).toEqual([
      'auth=pass',
      'spf=pass',
    ]);
  });
  test('B.6: DKIM of two signers, one of whom fails', () => {
    const read = readAuthenticationResults(
      'example.com;\r\n dkim=pass reason="good signature" header.i=@mail-router.example.net;\r\n dkim=fail reason="bad signature" header.i=@newyork.example.com',
    );
    expect(read?.results).toEqual([
      { method: 'dkim', result: 'pass', properties: { 'header.i': '@mail-router.example.net' } },
      { method: 'dkim', result: 'fail', properties: { 'header.i': '@newyork.example.com' } },
    ]);
  });
  test('B.7: comments anywhere, a comment within a comment, a version of the method', () => {
    const header = [
      'foo.example.net (foobar) 1 (baz);',
      ' dkim (Because I like it) / 1 (One yay) = (wait for it) fail',
      ' policy (A dot can go here) . (like that) expired',
      ' (this (really) surprised me) = (as I wanted to see it) 1362471462',
    ].join('\r\n');
    expect(readAuthenticationResults(header)).toEqual({
      server: 'foo.example.net',
      results: [{ method: 'dkim', result: 'fail', properties: { 'policy.expired': '1362471462' } }],
    });
  });
  test.each([
    ['a pass that stands in a comment only', 'mx.example; spf=none (dmarc=pass header.from=a.example)'],
    ['a pass that stands in a reason only', 'mx.example; spf=fail reason="ok; dmarc=pass"'],
    ['a pass that stands in a quoted value', 'mx.example; spf=none smtp.mailfrom="a;dmarc=pass x"@b.example'],
  ])('%s proves nothing', (_, header) => {
    const read = readAuthenticationResults(header);
    expect(read).not.toBeNull();
    expect(judgeProof('ada@a.example', read!.results).proof).toBe('unproven');
  });
  test.each([
    'mx.example 2; spf=pass',
    'mx.example; spf=pass (never closed',
    'mx.example; spf="pass',
    'mx.example; spf pass',
    'mx.example; =pass',
    'mx.example',
    '; spf=pass',
    '',
  ])('%s says nothing', (header) => {
    expect(readAuthenticationResults(header)).toBeNull();
  });
});

describe('whose word counts, RFC 7489 section 3.1 (alignment)', () => {
  const judged = (header: string) =>
    judgeProof('Ada@Post.Firm.example', readAuthenticationResults(`mx.example; ${header}`)!.results).proof;
  test.each([
    ['dmarc=pass header.from=post.firm.example', 'proven'],
    ['dmarc=pass header.from=other.example', 'unproven'],
    ['dmarc=fail header.from=post.firm.example; spf=pass smtp.mailfrom=list.example', 'contradicted'],
    ['dkim=pass header.d=firm.example', 'proven'],
    ['dkim=pass header.d=afirm.example', 'unproven'],
    ['dkim=pass header.d=example', 'unproven'],
    ['dkim=neutral header.d=firm.example', 'unproven'],
    ['dmarc=temperror; dkim=pass header.d=post.firm.example', 'proven'],
    ['spf=pass smtp.mailfrom=ada@post.firm.example', 'proven'],
    ['spf=pass smtp.mailfrom=list.example', 'unproven'],
    ['none', 'unproven'],
  ])('%s: %s', (header, proof) => {
    expect(judged(header)).toBe(proof);
  });
  test('what nobody checked is not proven', () => {
    expect(judgeProof('ada@firm.example', null).proof).toBe('unproven');
  });
});
