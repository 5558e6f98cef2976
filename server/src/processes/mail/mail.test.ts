import type { CadenceSummary, Contact, Template } from '@kettle/contract';
import { MailParser } from 'mailparser';
import request from 'supertest';
import { v4 } from 'uuid';
import { smtpOut } from './mail-out';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { letRepsRelease } from '../../../testing/release';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, aLog, journalOf } from '../../../testing/people';
import { storeArrival } from './store-arrival';
import { bytesOf } from '../../platform/ids';

let server: MailServer;
let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep');
  await letRepsRelease(installation);
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const step = {
  channel: 'email',
  offsetDays: 0,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 4,
  purpose: 'say hello',
};
const letter = {
  channel: 'email',
  subject: 'Water for {{ company.name }}',
  body: 'Dear {{ contact.given_name }},\n\nsee https://hollinbeck.example/test.\n\n{{ sender.first_name }}',
};

const aTemplate = (part: object = {}) =>
  rep.ok('createTemplate', { body: { name: `Hello ${v4()}`, ...letter, ...part } });

/** A cadence that writes by itself at once and then has a call. */
async function aCadence(part: object = {}, template?: Template): Promise<CadenceSummary> {
  const { id } = template ?? (await aTemplate());
  return rep.ok('createCadence', {
    body: {
      name: `By itself ${v4()}`,
      definition: {
        steps: [
          { ...step, mode: 'by-itself', templateIds: [id] },
          { ...step, channel: 'call', offsetDays: 2, ...part },
        ],
      },
    },
  });
}

async function start(contact: Contact, cadence: CadenceSummary): Promise<void> {
  await rep.ok('startRuns', {
    params: { id: cadence.id },
    body: { requestId: v4(), versionId: cadence.versionId, contactIds: [contact.id] },
  });
  await installation.work();
}

const runOf = async (contact: Contact) =>
  (await rep.ok('listRuns', { query: { contactId: contact.id } })).runs[0]!;
const mailOf = async (contact: Contact) =>
  (await rep.ok('listMail', { query: { contactId: contact.id } })).rows;
const tasksOf = async (contact: Contact) =>
  (await rep.ok('listTasks', { query: { contactId: contact.id } })).tasks;
const stirringsOf = async () => (await rep.ok('listStirrings')).rows;
const wait = (seconds: number) => {
  const { clock } = installation;
  clock.set(new Date(clock.millis() + seconds * 1000).toISOString());
};

/** Something arrives, as from outside, and is read. */
async function arrives(
  lines: readonly string[],
  envelopeFrom: string | null = 'them@firm.example',
): Promise<void> {
  const from = /^From: .*?([\w.+-]+@[\w.-]+)/im.exec(lines.join('\n'))?.[1] ?? '';
  await arrivesUnchecked([checkedHeader(from), ...lines], envelopeFrom);
}

/** What the trusted server writes onto a mail that its domain vouches for. */
const checkedHeader = (from: string) =>
  `Authentication-Results: mx.kettle.test; dmarc=pass header.from=${from.split('@')[1] ?? 'nowhere.example'}`;

async function arrivesUnchecked(
  lines: readonly string[],
  envelopeFrom: string | null = 'them@firm.example',
): Promise<void> {
  await storeArrival(installation.services, { content: Buffer.from(lines.join('\r\n')), envelopeFrom });
  await installation.work();
}
const answerTo = (
  sent: MailServer['got'][number],
  contact: Contact,
  words: string,
  heads: readonly string[] = [],
) => [
  `From: ${contact.name} <${contact.email}>`,
  'To: rep@hollinbeck.example',
  `Subject: Re: ${sent.subject}`,
  `Message-ID: <${v4()}@penrow.example>`,
  `In-Reply-To: ${sent.messageId}`,
  `References: ${sent.messageId}`,
  ...heads,
  '',
  words,
  '',
  '> Dear Maud,',
];

describe('a step that goes by itself', () => {
  test('is written with the facts of the person, sent once, and the run goes on', async () => {
    const contact = await aContact(rep);
    await start(contact, await aCadence());
    expect(server.got).toHaveLength(1);
    expect(server.got[0]).toMatchObject({ subject: `Water for ${contact.companyName}` });
    expect(server.got[0]!.text).toContain('Dear Maud,');
    expect(await runOf(contact)).toMatchObject({ status: 'running', step: 2, nextOn: '2026-11-26' });
    expect((await journalOf(rep, { contactId: contact.id }))[0]).toMatchObject({
      kind: 'email',
      counts: 'attempt',
    });
    expect(await tasksOf(contact)).toMatchObject([{ channel: 'call', dueOn: '2026-11-26' }]);
  });

  test('that lies ahead shows in the tether, is nobody’s work, and goes on its day', async () => {
    const contact = await aContact(rep);
    const template = await aTemplate();
    const cadence = await rep.ok('createCadence', {
      body: {
        name: 'Later',
        definition: { steps: [{ ...step, offsetDays: 1, mode: 'by-itself', templateIds: [template.id] }] },
      },
    });
    await start(contact, cadence);
    expect(server.got).toHaveLength(0);
    installation.clock.set('2026-11-25T09:00:00.000Z');
    const round = await rep.ok('round');
    expect(round.above).toEqual([]);
    await installation.work();
    expect(server.got).toHaveLength(1);
    expect(await runOf(contact)).toMatchObject({ status: 'finished', exitReason: 'all steps are done' });
  });

  test('with a fact that is not known nothing is sent: a person gets the step with the reason', async () => {
    const contact = await aContact(rep, { companyName: null });
    await start(contact, await aCadence());
    expect(server.got).toHaveLength(0);
    expect(await tasksOf(contact)).toMatchObject([{ channel: 'email', dueOn: '2026-11-24' }]);
    expect((await journalOf(rep, { contactId: contact.id }))[0]!.body).toContain('not known: company.name');
  });

  test('stopped before it went, nothing goes', async () => {
    const contact = await aContact(rep);
    server.behave('later');
    await start(contact, await aCadence());
    const run = await runOf(contact);
    await rep.ok('changeRun', { params: { id: run.id }, body: { version: run.version, change: 'stop' } });
    server.behave('accept');
    wait(3600);
    await installation.work();
    expect(server.got).toHaveLength(0);
    expect(await mailOf(contact)).toMatchObject([{ state: 'withdrawn' }]);
  });
});

describe('whatever happens while it is sent', () => {
  const send = async () => {
    const contact = await aContact(rep);
    await start(contact, await aCadence());
    return contact;
  };
  const stateOf = async (contact: Contact) => (await mailOf(contact))[0]!;

  test.each(['later', 'break-early'] as const)(
    '%s: nothing was accepted, so it is sent again, once',
    async (how) => {
      server.behave(how);
      const contact = await send();
      expect((await stateOf(contact)).state).toBe('waiting');
      server.behave('accept');
      wait(60);
      await installation.work();
      expect([server.got.length, (await stateOf(contact)).state]).toEqual([1, 'sent']);
    },
  );

  test('the server is away: it waits, and is given up after the eighth try with a word to the sender', async () => {
    await server.close();
    const contact = await send();
    for (let tries = 0; tries < 9; tries += 1) {
      wait(7200);
      await installation.work();
    }
    expect(await stateOf(contact)).toMatchObject({ state: 'failed' });
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications[0]!.words).toContain('could not be sent');
    server = await aMailServer();
  });

  test('an address that is unknown there is marked, and the run goes on without mail', async () => {
    server.behave('unknown-address');
    const contact = await send();
    expect((await stateOf(contact)).state).toBe('failed');
    expect(await runOf(contact)).toMatchObject({ status: 'running', step: 2 });
    expect((await stirringsOf())[0]).toMatchObject({ kind: 'bounced' });
  });

  test('the answer is lost: held, never sent again by itself, and decided by a person', async () => {
    server.behave('vanish');
    const contact = await send();
    server.behave('accept');
    wait(86_400);
    await installation.work();
    const held = await stateOf(contact);
    expect([held.state, server.got.length]).toEqual(['held', 1]);
    const { known } = await rep.ok('getMail', { params: { id: held.id } });
    expect(known).toEqual(expect.arrayContaining(['no answer to it has come', 'no sign that it was opened']));
    const decided = { params: { id: held.id }, body: { version: held.version, as: 'arrived' } };
    expect(await rep.ok('decideHeld', decided)).toMatchObject({ state: 'sent' });
    expect(server.got).toHaveLength(1);
    expect((await runOf(contact)).step).toBe(2);
    expect((await rep.call('decideHeld', decided)).body).toMatchObject({ code: 'not-so-now' });
  });

  test('a held one may be sent again, knowingly', async () => {
    server.behave('vanish');
    const contact = await send();
    server.behave('accept');
    const held = await stateOf(contact);
    await rep.ok('decideHeld', {
      params: { id: held.id },
      body: { version: held.version, as: 'send-again' },
    });
    wait(60);
    await installation.work();
    expect([server.got.length, (await stateOf(contact)).state]).toEqual([2, 'sent']);
  });

  test('our server stops between the far end’s taking it and its answer: held after the lease', async () => {
    const { database } = installation.services;
    let died = false;
    let release: () => void = () => undefined;
    server.beforeAnswer(async () => {
      died = true;
      await new Promise<void>((resolve) => (release = resolve));
    });
    const contact = await aContact(rep);
    const cadence = await aCadence();
    await rep.ok('startRuns', {
      params: { id: cadence.id },
      body: { requestId: v4(), versionId: cadence.versionId, contactIds: [contact.id] },
    });
    const stopped = installation.work();
    while (!died) await new Promise((resolve) => setTimeout(resolve, 20));
    // What a stopped server leaves: its lease ends, and another server looks for work.
    await database.change("UPDATE job SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE state = 'claimed'");
    await installation.workElsewhere();
    expect([server.got.length, (await stateOf(contact)).state]).toEqual([1, 'held']);
    // It was not dead, only slow: what it hears in the end settles the doubt.
    release();
    await stopped;
    expect([server.got.length, (await stateOf(contact)).state]).toEqual([1, 'sent']);
  });

  test.each(['before the far end answers', 'while it is queued'])(
    'the database goes away and comes back %s: sent once, and nothing is lost',
    async (when) => {
      const contact = await aContact(rep);
      const cadence = await aCadence();
      const breaks = () => installation.breakConnections();
      if (when === 'before the far end answers') server.beforeAnswer(breaks);
      await rep.ok('startRuns', {
        params: { id: cadence.id },
        body: { requestId: v4(), versionId: cadence.versionId, contactIds: [contact.id] },
      });
      const working = installation.work().catch(() => undefined);
      if (when === 'while it is queued') await breaks();
      await working;
      server.beforeAnswer(async () => undefined);
      const workOn = async () => {
        const { database } = installation.services;
        await database.change(
          "UPDATE job SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE state = 'claimed'",
        );
        await installation.work();
      };
      // A connection of the pool may still learn that it is broken when it is next used.
      for (let n = 0; n < 8; n += 1) {
        wait(60);
        await workOn().catch(() => undefined);
      }
      expect(server.got).toHaveLength(1);
      // Whoever lost what the far end said asks a person; whoever did not has it as sent.
      expect(['sent', 'held']).toContain((await stateOf(contact)).state);
    },
  );

  test('two servers at once send it once', async () => {
    const contact = await aContact(rep);
    const cadence = await aCadence();
    await rep.ok('startRuns', {
      params: { id: cadence.id },
      body: { requestId: v4(), versionId: cadence.versionId, contactIds: [contact.id] },
    });
    await Promise.all([installation.work(), installation.workElsewhere()]);
    await installation.work();
    expect([server.got.length, (await stateOf(contact)).state]).toEqual([1, 'sent']);
  });

  test('a sender keeps the pace and the limit of the day; the rest goes tomorrow', async () => {
    const admin = await installation.as('admin');
    const settings = await admin.ok('mailSettings');
    await admin.ok('changeMailSettings', { body: { ...settings, dailyLimit: 2, paceSeconds: 60 } });
    const cadence = await aCadence();
    for (let n = 0; n < 3; n += 1) await start(await aContact(rep), cadence);
    const after: number[] = [];
    for (const seconds of [0, 60, 60, 3600, 86_400]) {
      wait(seconds);
      await installation.work();
      after.push(server.got.length);
    }
    expect(after).toEqual([1, 2, 2, 2, 3]);
    const late = { ...settings, dailyLimit: 3 };
    expect((await admin.call('changeMailSettings', { body: late })).body).toMatchObject({
      code: 'stale',
      fields: [{ path: 'dailyLimit' }],
    });
  });

  test('who asked for no more meanwhile gets none', async () => {
    server.behave('later');
    const contact = await send();
    await installation.services.database.change(
      "INSERT INTO do_not_contact (contact_id, channel, since, origin) SELECT id, 'email', NOW(3), 'they asked' FROM contact WHERE email = :email",
      { email: contact.email },
    );
    server.behave('accept');
    wait(60);
    await installation.work();
    expect([server.got.length, (await stateOf(contact)).state]).toEqual([0, 'withdrawn']);
  });
});

describe('what comes in and is not proven', () => {
  let contact: Contact;
  let sent: MailServer['got'][number];
  beforeEach(async () => {
    contact = await aContact(rep);
    await start(contact, await aCadence());
    sent = server.got[0]!;
  });
  const waiting = async () => (await rep.ok('listMail', { query: { box: 'unfiled' } })).rows;
  const marks = async () => (await rep.ok('getContact', { params: { id: contact.id } })).doNotContact;
  const header = (results: string) => `Authentication-Results: mx.kettle.test; ${results}`;
  const fileWith = async (id = contact.id) => {
    const [mail] = await waiting();
    const changeId = v4();
    await rep.ok('fileMail', {
      params: { id: mail!.id },
      body: { version: mail!.version, contactId: id, keepAddress: false },
      changeId,
    });
    return changeId;
  };

  test.each([
    ['nobody checked', [], 'unproven', 'nobody checked'],
    [
      'only another server did',
      ['Authentication-Results: mx.elsewhere.example; dmarc=pass'],
      'unproven',
      'nobody',
    ],
    [
      'the header of the trusted server stands below another',
      ['Authentication-Results: mx.elsewhere.example; spf=none', header('dmarc=pass')],
      'unproven',
      'nobody',
    ],
    [
      'their domain contradicts',
      [header('dmarc=fail header.from=penrow.example')],
      'contradicted',
      'DMARC fail',
    ],
    ['another domain vouches', [header('dkim=pass header.d=list.example')], 'unproven', 'list.example'],
  ])('an answer where %s is proposed, changes nothing, and is told', async (_, heads, proof, words) => {
    await arrivesUnchecked([...heads, ...answerTo(sent, contact, 'Yes, call me.')]);
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
    expect(
      (await journalOf(rep, { contactId: contact.id })).some(({ direction }) => direction === 'in'),
    ).toBe(false);
    const [mail] = await waiting();
    expect(mail).toMatchObject({ proof, proofWords: expect.stringContaining(words), contactId: null });
    const { proposed } = await rep.ok('getMail', { params: { id: mail!.id } });
    expect(proposed[0]).toMatchObject({ contactId: contact.id, why: 'has this address' });
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications[0]!.words).toContain(`says it is from ${contact.name}`);
  });

  test('filed by hand it does what an answer does, and undo takes it back', async () => {
    await arrivesUnchecked(answerTo(sent, contact, 'Yes, call me.'));
    const changeId = await fileWith();
    expect(await runOf(contact)).toMatchObject({ status: 'finished', exitReason: 'replied by email' });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
    expect(await waiting()).toHaveLength(1);
  });

  test('an opt-out marks nobody until somebody files it; undo lifts the mark', async () => {
    await arrivesUnchecked([...answerTo(sent, contact, '').slice(0, 6), '', 'Unsubscribe']);
    expect(await marks()).toEqual([]);
    expect((await waiting())[0]).toMatchObject({ kind: 'unsubscribe' });
    const changeId = await fileWith();
    expect(await marks()).toMatchObject([{ channel: 'email', origin: 'asked by mail' }]);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await marks()).toEqual([]);
  });

  test('an absence pauses nothing until somebody files it', async () => {
    const lines = answerTo(sent, contact, 'I am out of the office until 4 December.', [
      'Auto-Submitted: auto-replied',
    ]);
    await arrivesUnchecked(lines);
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
    await fileWith();
    expect(await runOf(contact)).toMatchObject({ status: 'paused' });
  });

  test('the token of the unsubscribe address is proof enough: only whoever got that mail has it', async () => {
    const line = sent.headerLines.find(({ key }) => key === 'list-unsubscribe')!.line;
    const token = /unsubscribe%20([\w-]+)/.exec(line)![1]!;
    await arrivesUnchecked([
      `From: ${contact.email}`,
      'To: unsubscribe@kettle.test',
      `Subject: unsubscribe ${token}`,
      '',
      '',
    ]);
    expect(await marks()).toMatchObject([{ channel: 'email' }]);
  });

  test('another address than theirs is said; that of a colleague of theirs is believed, a stranger’s is not', async () => {
    const from = (address: string) =>
      answerTo(sent, contact, 'Yes.').map((line) => (line.startsWith('From:') ? `From: ${address}` : line));
    await arrives(from('maud@elsewhere.example'));
    const [mail] = await waiting();
    expect(mail).toMatchObject({ proof: 'proven', contactId: null });
    expect(mail!.proofWords).toContain(`from another address than theirs: maud@elsewhere.example`);
    const { proposed } = await rep.ok('getMail', { params: { id: mail!.id } });
    expect(proposed).toMatchObject([{ contactId: contact.id, why: 'the exchange is with them' }]);
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
    await arrives(from('office@penrow.example'));
    expect(await runOf(contact)).toMatchObject({ status: 'finished' });
    const [answer] = (await mailOf(contact)).filter(({ direction }) => direction === 'in');
    expect(answer!.proofWords).toContain('office@penrow.example instead of');
  });

  test('a mail that cannot be read is shown to whom it was for', async () => {
    const reader = jest
      .spyOn(MailParser.prototype, '_transform')
      .mockImplementation((_chunk, _encoding, done) => done(new Error('out of its depth')));
    await storeArrival(installation.services, {
      content: Buffer.from('Subject: broken\r\n\r\n\0\xff'),
      envelopeFrom: 'someone@elsewhere.example',
      envelopeTo: 'rep@hollinbeck.example',
    });
    await installation.work();
    reader.mockRestore();
    const [mail] = await waiting();
    expect(mail).toMatchObject({
      subject: 'A mail that could not be read',
      fromAddress: 'someone@elsewhere.example',
    });
    expect(mail!.opening).toContain('It is broken');
  });
});

describe('what comes in', () => {
  let contact: Contact;
  let sent: MailServer['got'][number];
  beforeEach(async () => {
    contact = await aContact(rep);
    await start(contact, await aCadence());
    sent = server.got[0]!;
  });

  test('an answer finds its thread, ends the run, is in the journal without the quoted mail, and waits in the Round', async () => {
    await arrives(answerTo(sent, contact, 'Yes, call me.'));
    expect(await runOf(contact)).toMatchObject({ status: 'finished', exitReason: 'replied by email' });
    const [entry] = (await journalOf(rep, { contactId: contact.id })).filter(
      (each) => each.direction === 'in',
    );
    expect(entry).toMatchObject({ kind: 'email', counts: 'conversation' });
    expect(entry!.body).toContain('Yes, call me.');
    expect(entry!.body).not.toContain('> Dear');
    const { above } = await rep.ok('round');
    expect(above[0]!.reasons[0]!.words).toContain('wrote');
    expect((await stirringsOf())[0]).toMatchObject({ kind: 'replied', contactName: contact.name });
    const [answer] = (await mailOf(contact)).filter((each) => each.direction === 'in');
    const { thread } = await rep.ok('getMail', { params: { id: answer!.id } });
    expect(thread.map((each) => each.direction)).toEqual(['out', 'in']);
  });

  test('the same mail twice, byte for byte or by another way, counts once', async () => {
    const lines = answerTo(sent, contact, 'Yes.');
    await arrives(lines);
    await arrives(lines);
    await arrives([`X-Way: imap`, ...lines], null);
    expect((await mailOf(contact)).filter((each) => each.direction === 'in')).toHaveLength(1);
  });

  test('another mail with the id of one before is seen too', async () => {
    const lines = answerTo(sent, contact, 'Yes.');
    await arrives(lines);
    const other = lines.map((line) => (line === 'Yes.' ? 'No, never.' : line));
    expect(other).not.toEqual(lines);
    await arrives(other);
    await arrives(other);
    const came = (await mailOf(contact)).filter((each) => each.direction === 'in');
    expect(came.map(({ opening }) => opening).sort()).toEqual([
      expect.stringContaining('No, never.'),
      expect.stringContaining('Yes.'),
    ]);
  });

  test('a return that anybody could have written marks nobody’s address', async () => {
    const forged = (to: string) => [
      'From: MAILER-DAEMON@elsewhere.example',
      `To: ${to}`,
      'Subject: Undelivered Mail Returned to Sender',
      `Message-ID: <${v4()}@elsewhere.example>`,
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
      '',
      '--b',
      'Content-Type: message/delivery-status',
      '',
      'Reporting-MTA: dns; mx.elsewhere.example',
      '',
      `Final-Recipient: rfc822; ${contact.email}`,
      'Action: failed',
      'Status: 5.1.1',
      '',
      '--b--',
    ];
    const isUnusable = async () => (await rep.ok('getContact', { params: { id: contact.id } })).emailUnusable;
    await arrives(forged('bounces@kettle.test'), '');
    await arrives(forged(`bounces+${v4()}@kettle.test`), '');
    expect(await isUnusable()).toBe(false);
    const [out] = (await mailOf(contact)).filter((each) => each.direction === 'out');
    await arrives(forged(`bounces+${out!.id}@kettle.test`), '');
    expect(await isUnusable()).toBe(true);
  });

  test('an absence pauses the run to the day after', async () => {
    await arrives(
      answerTo(sent, contact, 'I am out of office until 4 December 2026.', ['Auto-Submitted: auto-replied']),
    );
    expect(await runOf(contact)).toMatchObject({ status: 'paused' });
    expect((await stirringsOf())[0]).toMatchObject({
      kind: 'away',
      words: 'is out of office until 2026-12-04',
    });
    expect((await journalOf(rep, { contactId: contact.id })).some((each) => each.direction === 'in')).toBe(
      false,
    );
  });

  test('a return marks the address for good, a delay does not', async () => {
    const report = (action: string, status: string) => [
      'From: MAILER-DAEMON@penrow.example',
      'To: bounces@kettle.test',
      'Subject: Undelivered Mail Returned to Sender',
      `Message-ID: <${v4()}@penrow.example>`,
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
      '',
      '--b',
      'Content-Type: text/plain',
      '',
      'It could not be delivered.',
      '--b',
      'Content-Type: message/delivery-status',
      '',
      'Reporting-MTA: dns; mx.penrow.example',
      '',
      `Final-Recipient: rfc822; ${contact.email}`,
      `Action: ${action}`,
      `Status: ${status}`,
      'Diagnostic-Code: smtp; 550 no such mailbox',
      '',
      '--b',
      'Content-Type: text/rfc822-headers',
      '',
      `Message-ID: ${sent.messageId}`,
      '',
      '--b--',
    ];
    await arrives(report('delayed', '4.4.1'), '');
    expect((await rep.ok('getContact', { params: { id: contact.id } })).emailUnusable).toBe(false);
    await arrives(report('failed', '5.1.1'), '');
    expect((await rep.ok('getContact', { params: { id: contact.id } })).emailUnusable).toBe(true);
    expect((await mailOf(contact)).find((each) => each.direction === 'out')!.said).toContain(
      'came back: 5.1.1',
    );
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
  });

  test('“unsubscribe” in answer marks the channel and stops the run', async () => {
    await arrives(answerTo(sent, contact, 'Unsubscribe').slice(0, -2));
    expect(await runOf(contact)).toMatchObject({ status: 'stopped', exitReason: 'unsubscribed from email' });
  });

  test('from another address of somebody known it is proposed for them by their name, to whom may see them', async () => {
    const other = await installation.as('rep');
    const known = await aContact(other, { givenName: 'Ottilie', familyName: 'van Marrow', email: null });
    await arrives([
      'From: Ottilie van Marrow <ottilie@privatepost.example>',
      'To: rep@x.example',
      'Subject: My own address',
      'Message-ID: <name@privatepost.example>',
      '',
      'The other one is down.',
    ]);
    const [mail] = (await rep.ok('listMail', { query: { box: 'unfiled' } })).rows;
    const proposed = async () => (await rep.ok('getMail', { params: { id: mail!.id } })).proposed;
    expect(await proposed()).toMatchObject([
      { contactId: known.id, why: 'has this name, and writes from another address' },
    ]);
    const admin = await installation.as('admin');
    const rights = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } });
    expect(await proposed()).toEqual([]);
  });

  test('one from nobody known waits to be filed, with a proposal, and is filed by hand', async () => {
    await arrives([
      'From: Bea <bea@penrow.example>',
      'To: rep@x.example',
      'Subject: Softener',
      'Message-ID: <q@penrow.example>',
      '',
      'A price, please.',
    ]);
    const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
    const { counts } = await rep.ok('countMail', {});
    expect([rows.length, counts.unfiled]).toEqual([1, 1]);
    const { proposed } = await rep.ok('getMail', { params: { id: rows[0]!.id } });
    expect(proposed.map((each) => each.contactId)).toContain(contact.id);
    const filing = {
      params: { id: rows[0]!.id },
      body: { version: rows[0]!.version, contactId: contact.id },
    };
    expect(await rep.ok('fileMail', filing)).toMatchObject({
      state: 'filed',
      contactId: contact.id,
    });
    expect((await rep.call('fileMail', filing)).body).toMatchObject({ code: 'stale' });
    // The address is known from now on.
    await arrives([
      'From: bea@penrow.example',
      'Subject: And?',
      'Message-ID: <r@penrow.example>',
      '',
      'Well?',
    ]);
    expect((await mailOf(contact)).filter((each) => each.state === 'filed')).toHaveLength(2);
  });

  test('one that is filed late counts from when it was written', async () => {
    const written = new Date(installation.clock.millis() - 3 * 86_400_000);
    await arrives([
      'From: late@penrow.example',
      `Date: ${written.toUTCString()}`,
      'Subject: Softener',
      'Message-ID: <late@penrow.example>',
      '',
      'A price, please.',
    ]);
    const [row] = (await rep.ok('listMail', { query: { box: 'unfiled' } })).rows;
    expect(row!.at).toBe(`${written.toISOString().slice(0, 19)}.000Z`);
    await rep.ok('fileMail', {
      params: { id: row!.id },
      body: { version: row!.version, contactId: contact.id },
    });
    const entry = (await journalOf(rep, { contactId: contact.id })).find(
      ({ direction }) => direction === 'in',
    );
    expect(entry!.at).toBe(row!.at);
  });

  test('a mail of somebody with two deals proposes the one it means, and is put with it', async () => {
    const make = (name: string) => aDeal(rep, contact.id, { name });
    const [softener, boiler] = [await make('Softener'), await make('Boiler treatment')];
    await arrives(answerTo(sent, contact, 'And what about the boiler treatment?').slice(0));
    const mail = (await mailOf(contact)).find(({ direction }) => direction === 'in')!;
    const read = await rep.ok('getMail', { params: { id: mail.id } });
    expect([mail.dealId, read.deals.map(({ name }) => name)]).toEqual([
      null,
      ['Boiler treatment', 'Softener'],
    ]);
    const changeId = v4();
    const put = { params: { id: mail.id }, body: { version: mail.version, dealId: boiler.id } };
    await rep.call('putMailWithDeal', { ...put, changeId });
    const inJournal = async (dealId: string) =>
      (await journalOf(rep, { dealId })).some(({ direction }) => direction === 'in');
    expect([await inJournal(boiler.id), await inJournal(softener.id)]).toEqual([true, false]);
    expect((await rep.call('putMailWithDeal', put)).body).toMatchObject({ code: 'stale' });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await inJournal(boiler.id)).toBe(false);
  });

  test('one can be dismissed, and that undone', async () => {
    await arrives(['From: spam@x.example', 'Subject: Win', 'Message-ID: <s@x.example>', '', 'Win!']);
    const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
    const gone = await rep.ok('letMailGo', {
      params: { id: rows[0]!.id },
      body: { version: rows[0]!.version },
    });
    expect(gone.state).toBe('let-go');
    const back = await rep.ok('unfileMail', {
      params: { id: gone.id },
      body: { version: gone.version },
    });
    expect(back.state).toBe('unfiled');
  });

  describe('several at once', () => {
    const three = async () => {
      for (const name of ['ada', 'bea', 'cis'])
        await arrives([
          `From: ${name}@penrow.example`,
          `Subject: From ${name}`,
          `Message-ID: <${v4()}@penrow.example>`,
          '',
          'A price, please.',
        ]);
      return (await rep.ok('listMail', { query: { box: 'unfiled', sort: 'address' } })).rows;
    };
    const boxOf = async (ids: readonly string[]) =>
      Promise.all(ids.map(async (id) => (await rep.ok('getMail', { params: { id } })).state));

    test('are dismissed in one change; what is filed already stays, and one undo brings all back', async () => {
      const rows = await three();
      const ids = rows.map(({ id }) => id);
      await rep.ok('fileMail', {
        params: { id: ids[0]! },
        body: { version: rows[0]!.version, contactId: contact.id },
      });
      const changeId = v4();
      const { body } = await rep.call('moveMail', { body: { to: 'let-go', ids }, changeId });
      expect(body).toEqual({ moved: 2, left: 1 });
      expect(await boxOf(ids)).toEqual(['filed', 'let-go', 'let-go']);
      await rep.ok('undoChange', { params: { id: changeId } });
      expect(await boxOf(ids)).toEqual(['filed', 'unfiled', 'unfiled']);
    });

    test('are filed with one person: each is in the journal, and their addresses are known from then on', async () => {
      const ids = (await three()).map(({ id }) => id);
      expect(await rep.ok('moveMail', { body: { to: 'filed', ids, contactId: contact.id } })).toEqual({
        moved: 3,
        left: 0,
      });
      const journal = await journalOf(rep, { contactId: contact.id });
      expect(journal.filter(({ body }) => /^From (ada|bea|cis)/.test(body))).toHaveLength(3);
      const { otherPoints } = await rep.ok('getContact', { params: { id: contact.id } });
      expect(otherPoints.map(({ value }) => value)).toEqual(
        expect.arrayContaining(['ada@penrow.example', 'bea@penrow.example', 'cis@penrow.example']),
      );
    });

    test('none of them is moved when one is not the caller’s to read, and none is in a file of theirs', async () => {
      const ids = (await three()).map(({ id }) => id);
      const other = await installation.as('rep');
      await installation.services.database.change('UPDATE mail SET user_id = :user WHERE id = :id', {
        user: bytesOf(other.id),
        id: bytesOf(ids[1]!),
      });
      expect((await rep.call('moveMail', { body: { to: 'let-go', ids } })).status).toBe(403);
      expect((await boxOf([ids[0]!, ids[2]!])).every((state) => state === 'unfiled')).toBe(true);
      const file = await rep.call('exportMail', { query: { ids: ids.join(','), columns: 'address' } });
      expect(file.text.match(/@penrow\.example/g)).toHaveLength(2);
    });
  });

  test('an exchange shows no mail of another’s mailbox that belongs to nobody', async () => {
    const other = await installation.as('rep');
    await arrives(['From: a@penrow.example', 'Subject: One', 'Message-ID: <one@penrow.example>', '', 'One']);
    await arrives([
      'From: a@penrow.example',
      'Subject: Re: One',
      'Message-ID: <two@penrow.example>',
      'In-Reply-To: <one@penrow.example>',
      '',
      'Two',
    ]);
    const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
    const [two, one] = rows;
    const thread = async () =>
      (await rep.ok('getMail', { params: { id: two!.id } })).thread.map(({ id }) => id);
    expect(await thread()).toEqual([one!.id, two!.id]);
    await installation.services.database.change('UPDATE mail SET user_id = :user WHERE id = :id', {
      user: bytesOf(other.id),
      id: bytesOf(one!.id),
    });
    expect(await thread()).toEqual([two!.id]);
  });

  test('what runs or reaches out is taken out of its HTML, and pictures are counted', async () => {
    const lines = [
      'From: x@y.example',
      'Subject: Hi',
      'Message-ID: <h@y.example>',
      'Content-Type: text/html',
      '',
      '<p onclick="x()">Hi <script>alert(1)</script><img src="https://spy.example/p.gif"><a href="javascript:x()">a</a><a href="https://y.example">b</a></p>',
    ];
    await arrives(lines);
    const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
    const read = await rep.ok('getMail', { params: { id: rows[0]!.id } });
    expect(read.html).not.toMatch(/script|onclick|spy|javascript/);
    expect(read.html).toContain('href="https://y.example"');
    expect(read.blockedPictures).toBe(1);
  });
});

describe('the doors to outside', () => {
  const linksOf = (html: string) =>
    [...html.matchAll(/(?:href|src)="([^"]+)"/g)].map((found) => new URL(found[1]!).pathname);
  let contact: Contact;
  let click: string;
  let open: string;
  beforeEach(async () => {
    contact = await aContact(rep);
    await start(contact, await aCadence({ skipWhen: ['clicked'] }));
    [click, open] = linksOf(String(server.got[0]!.html)) as [string, string];
  });

  test('a link leads to the address stored with the mail, is a sign of life, and makes a step needless', async () => {
    const reply = await request(installation.app).get(click);
    expect([reply.status, reply.get('Location')]).toEqual([302, 'https://hollinbeck.example/test']);
    await request(installation.app).get(click);
    expect((await stirringsOf())[0]).toMatchObject({ kind: 'clicked', times: 2 });
    const told = (await journalOf(rep, { contactId: contact.id })).filter(({ body }) =>
      body.startsWith('Followed'),
    );
    expect(told).toHaveLength(1);
    expect(await runOf(contact)).toMatchObject({ status: 'finished' });
  });

  test('whoever follows a link comes into the Round until somebody has reached out to them', async () => {
    const inRound = async () => {
      const { above, below } = await rep.ok('round');
      return [...above, ...below].find(({ contactId }) => contactId === contact.id);
    };
    expect(await inRound()).toBeUndefined();
    await request(installation.app).get(click);
    expect(await inRound()).toMatchObject({
      kind: 'stirring',
      channel: 'call',
      purpose: 'follow up while it is fresh',
    });
    expect((await inRound())!.reasons[0]!.words).toContain('followed a link in “Water for');
    await aLog(rep, contact.id);
    expect(await inRound()).toBeUndefined();
  });

  test('a link that was changed leads nowhere', async () => {
    const other = click
      .replace(/.$/, (last) => (last === 'A' ? 'B' : 'A'))
      .replace(/.(?=.{30}$)/, (each) => (each === 'x' ? 'y' : 'x'));
    for (const path of [
      other,
      `${click}?url=https://evil.example`,
      '/out/c/abc',
      click.replace('/c/', '/u/'),
    ]) {
      const reply = await request(installation.app).get(path);
      expect(reply.get('Location') ?? 'https://hollinbeck.example/test').toBe(
        'https://hollinbeck.example/test',
      );
    }
    expect((await request(installation.app).get(other)).status).toBe(404);
  });

  test('opening is a sign; with tracking switched off mails hold neither picture nor links of ours', async () => {
    expect((await request(installation.app).get(open)).get('Content-Type')).toBe('image/gif');
    expect((await stirringsOf())[0]).toMatchObject({ kind: 'opened' });
    const admin = await installation.as('admin');
    const settings = await admin.ok('mailSettings');
    await admin.ok('changeMailSettings', {
      body: { ...settings, tracksOpens: false, tracksClicks: false, paceSeconds: 0 },
    });
    wait(60);
    await start(await aContact(rep), await aCadence());
    expect(String(server.got[1]!.html)).not.toContain('/out/');
  });

  test('one click unsubscribes (RFC 8058); looking at the page does not', async () => {
    const header = server.got[0]!.headerLines.find(({ key }) => key === 'list-unsubscribe')!.line;
    const path = new URL(/<(http[^>]+)>/.exec(header)![1]!).pathname;
    expect((await request(installation.app).get(path)).text).toContain('Send me no more');
    expect(await runOf(contact)).toMatchObject({ status: 'running' });
    expect((await request(installation.app).post(path).type('form').send({ other: 'x' })).status).toBe(400);
    const done = await request(installation.app)
      .post(path)
      .type('form')
      .send({ 'List-Unsubscribe': 'One-Click' });
    expect(done.status).toBe(200);
    expect(await runOf(contact)).toMatchObject({ status: 'stopped' });
    const marks = (await rep.ok('getContact', { params: { id: contact.id } })).doNotContact;
    expect(marks).toMatchObject([{ channel: 'email', origin: 'unsubscribed by link' }]);
  });

  test('as a form of parts too', async () => {
    const header = server.got[0]!.headerLines.find(({ key }) => key === 'list-unsubscribe')!.line;
    const path = new URL(/<(http[^>]+)>/.exec(header)![1]!).pathname;
    await request(installation.app).post(path).field('List-Unsubscribe', 'One-Click');
    expect(await runOf(contact)).toMatchObject({ status: 'stopped' });
  });
});

describe('a mail written by hand', () => {
  const written = (contact: Contact, part: object = {}) => ({
    id: v4(),
    contactId: contact.id,
    subject: 'Your boiler',
    body: 'Dear {{ contact.given_name }}, when may we come?',
    next: { kind: 'task', channel: 'call', dueOn: '2026-11-27', purpose: 'ask', minutes: 6 },
    ...part,
  });

  test('is logged with its next step, goes after the moment of grace, and is sent once however often it is asked for', async () => {
    const contact = await aContact(rep);
    const body = written(contact);
    await rep.ok('sendMail', { body });
    await rep.ok('sendMail', { body });
    await installation.work();
    expect(server.got).toHaveLength(0);
    wait(11);
    await installation.work();
    expect(server.got.map((each) => each.text?.trim())).toEqual(['Dear Maud, when may we come?']);
    expect(await tasksOf(contact)).toMatchObject([{ dueOn: '2026-11-27' }]);
    expect(await journalOf(rep, { contactId: contact.id })).toMatchObject([{ outcomeLabel: 'Sent' }]);
  });

  test('cancelled in time it never goes; once it has gone it cannot be', async () => {
    const contact = await aContact(rep);
    const [first, second] = [written(contact), written(contact)];
    await rep.ok('sendMail', { body: first });
    await rep.ok('undoLog', { params: { id: first.id } });
    wait(11);
    await installation.work();
    expect(server.got).toHaveLength(0);
    await rep.ok('sendMail', { body: second });
    wait(60);
    await installation.work();
    expect((await rep.call('undoLog', { params: { id: second.id } })).body).toMatchObject({
      code: 'cannot-undo',
    });
  });

  test.each([
    [{ companyName: null }, { body: 'At {{ company.name }}' }, 'facts-missing'],
    [{ doNotContact: ['email'] }, {}, 'not-to-be-contacted'],
    [{ email: null }, {}, 'nothing-to-reach-on'],
  ])('%j %j is refused as %s, and nothing is written', async (person, part, code) => {
    const contact = await aContact(rep, person);
    expect((await rep.call('sendMail', { body: written(contact, part) })).body).toMatchObject({ code });
    expect(await mailOf(contact)).toEqual([]);
    expect(await tasksOf(contact)).toEqual([]);
  });

  test('an answer stays in the thread', async () => {
    const contact = await aContact(rep);
    await arrives([
      `From: ${contact.email}`,
      'Subject: Price?',
      'Message-ID: <first@penrow.example>',
      '',
      'How much?',
    ]);
    const [theirs] = await mailOf(contact);
    const draft = await rep.ok('draftMail', {
      query: { contactId: contact.id, answers: theirs!.id },
    });
    expect(draft).toMatchObject({ subject: 'Re: Price?', to: contact.email });
    await rep.ok('sendMail', { body: written(contact, { subject: draft.subject, answers: theirs!.id }) });
    wait(11);
    await installation.work();
    expect(server.got[0]).toMatchObject({ inReplyTo: '<first@penrow.example>' });
    expect(server.got[0]!.headerLines.some(({ key }) => key === 'list-unsubscribe')).toBe(false);
  });

  test('without a mail server it says so', async () => {
    const bare = await install();
    const caller = await bare.as('rep');
    const contact = await aContact(caller);
    expect((await caller.call('sendMail', { body: written(contact) })).body).toMatchObject({
      code: 'not-set-up',
    });
    await bare.close();
  });
});

test('reps see their own mail and nobody’s, managers see all', async () => {
  const [other, manager] = [await installation.as('rep'), await installation.as('manager')];
  await start(await aContact(rep), await aCadence());
  const seen = async (caller: Caller) => {
    const [{ rows }, { counts, found, total }] = await Promise.all([
      caller.ok('listMail', { query: { box: 'sent' } }),
      caller.ok('countMail', { query: { box: 'sent' } }),
    ]);
    expect([found, total, counts.sent]).toEqual([rows.length, rows.length, rows.length]);
    return rows.length;
  };
  expect([await seen(rep), await seen(other), await seen(manager)]).toEqual([1, 0, 1]);
});
