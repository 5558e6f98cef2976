import { randomUUID } from 'node:crypto';
import { simpleParser } from 'mailparser';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact } from '../../../testing/people';
import { fileNameOf } from './mail-files';
import { smtpOut } from './mail-out';

let server: MailServer;
let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const letter = (subject: string, more = '') =>
  Buffer.from(
    [
      'From: Maud Ellery <maud@penrow.example>',
      'To: someone@elsewhere.example',
      `Subject: ${subject}`,
      'Date: Mon, 23 Nov 2026 10:00:00 +0000',
      `Message-ID: <${subject.replace(/\W/g, '')}@penrow.example>`,
      ...['Content-Type: text/plain; charset=utf-8', '', `Hello, Grüße${more}`, ''],
    ].join('\r\n'),
  );
const add = async (who: Caller, bytes: Buffer, name = 'letter.eml') => {
  const reply = await who.upload({ name }, bytes, 'addMailFile');
  return { status: reply.status, body: reply.body as { isNew?: boolean; fields?: { message: string }[] } };
};
const file = (who: Caller, id: string) => who.call('mailFile', { params: { id }, isFile: true });

test('a file is taken in as if it had come, proposed to whom it is from, and taken out byte for byte', async () => {
  const contact = await aContact(rep, { email: 'maud@penrow.example' });
  const bytes = letter('Salt');
  expect(await add(rep, bytes)).toMatchObject({ status: 200, body: { isNew: true } });
  await installation.work();
  const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
  expect(rows).toMatchObject([{ subject: 'Salt', at: '2026-11-23T10:00:00.000Z', proof: 'unproven' }]);
  const mail = await rep.ok('getMail', { params: { id: rows[0]!.id } });
  expect(mail.proposed.map(({ contactId }) => contactId)).toEqual([contact.id]);
  const out = await file(rep, rows[0]!.id);
  expect((out.body as Buffer).equals(bytes)).toBe(true);
  expect(await add(rep, bytes)).toMatchObject({ body: { isNew: false } });
  await installation.work();
  expect((await rep.ok('listMail', { query: { box: 'unfiled' } })).rows).toHaveLength(1);
});

test('what is no mail is refused with why, and is not kept', async () => {
  for (const bytes of [
    Buffer.from('just words'),
    Buffer.from([0, 1, 2, 255]),
    Buffer.alloc(0),
    letter('x').subarray(0, 20),
  ]) {
    const { status, body } = await add(rep, bytes);
    expect([status, body.fields?.[0]?.message]).toEqual([
      400,
      'is no mail: it does not say from whom and when',
    ]);
  }
  expect(await installation.services.database.rows('SELECT 1 FROM mail_arrival')).toEqual([]);
  expect((await add(rep, letter('big', 'x'.repeat(26 * 1024 * 1024)))).status).toBe(413);
}, 60_000);

test('it is in the boxes of whoever took it in, and a colleague neither reads nor takes it out', async () => {
  await add(rep, letter('Private'));
  await installation.work();
  const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
  const other = await installation.as('rep', 'Owen Marsh');
  expect((await other.ok('listMail', { query: { box: 'unfiled' } })).rows).toEqual([]);
  expect((await file(other, rows[0]!.id)).status).toBe(404);
});

test('one whose bytes are no longer kept is written anew from what was read of it', async () => {
  await add(rep, letter('Kept'));
  await installation.work();
  const { rows } = await rep.ok('listMail', { query: { box: 'unfiled' } });
  await installation.services.database.change('UPDATE mail SET arrival_id = NULL');
  const parsed = await simpleParser((await file(rep, rows[0]!.id)).body as Buffer);
  expect([parsed.subject, parsed.text?.trim(), parsed.messageId]).toEqual([
    'Kept',
    'Hello, Grüße',
    '<Kept@penrow.example>',
  ]);
});

test('one that we wrote is a mail of its own words, and tells nobody that it is read', async () => {
  const admin = await installation.as('admin', 'Petra Lund');
  const settings = await admin.ok('mailSettings');
  await admin.ok('changeMailSettings', { body: { ...settings, tracksOpens: true, tracksClicks: true } });
  const contact = await aContact(rep, { email: 'maud@penrow.example' });
  await rep.ok('sendMail', {
    body: {
      ...{ id: randomUUID(), contactId: contact.id, subject: 'Offer: ½ price / now' },
      body: 'See https://hollinbeck.example/a',
      next: { kind: 'task', channel: 'call', dueOn: '2026-11-27', purpose: 'ask', minutes: 6 },
    },
  });
  const { rows } = await rep.ok('listMail', { query: { contactId: contact.id } });
  const reply = await file(rep, rows[0]!.id);
  const parsed = await simpleParser(reply.body as Buffer);
  expect([parsed.subject, parsed.text?.trim()]).toEqual([
    'Offer: ½ price / now',
    'See https://hollinbeck.example/a',
  ]);
  expect((reply.body as Buffer).toString()).not.toMatch(/\/out\/[ocu]\//);
  expect(parsed.headers.has('list-unsubscribe')).toBe(false);
});

test.each([
  ['Re: a/b', 'Re a b.eml'],
  ['Grüße — 50 %', 'Grüße 50.eml'],
  ['../../etc', 'etc.eml'],
  ['', 'mail.eml'],
])('a mail about %j is called %j', (subject, name) => {
  expect(fileNameOf(subject)).toBe(name);
});
