import type { Contact, MailId } from '@kettle/contract';
import { readCalendar } from '@kettle/core/invitations';
import { parseICS, type VEvent } from 'node-ical';
import { v7 } from 'uuid';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { smtpOut } from './mail-out';
import { storeArrival } from './store-arrival';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let myAddress: string;
let maud: Contact;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  myAddress = (await rep.ok('session')).person!.email;
  maud = await aContact(rep, { email: 'maud@penrow.example', phone: null });
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

interface Sent {
  readonly method?: 'REQUEST' | 'CANCEL';
  readonly uid?: string;
  readonly sequence?: number;
  readonly stamp?: string;
  readonly start?: string;
  readonly end?: string;
  readonly from?: string;
  readonly organizer?: string;
  readonly more?: readonly string[];
}

/** As several programs write them: by UTC, with a zone of their own, in capitals. */
async function invite(part: Sent = {}): Promise<MailId> {
  const { method = 'REQUEST', uid = 'x1@penrow.example', sequence = 0, stamp = '20261124T080000Z' } = part;
  const from = part.from ?? 'maud@penrow.example';
  const text = [
    ...[
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//Diary//EN',
      `METHOD:${method}`,
      'BEGIN:VEVENT',
      `UID:${uid}`,
    ],
    ...[
      `SEQUENCE:${sequence}`,
      `DTSTAMP:${stamp}`,
      `DTSTART:${part.start ?? '20261203T140000Z'}`,
      `DTEND:${part.end ?? '20261203T150000Z'}`,
    ],
    ...[
      'SUMMARY:Boiler house',
      'LOCATION:Mill Lane 3',
      `ORGANIZER;CN=Maud Ellery:MAILTO:${part.organizer ?? from}`,
    ],
    ...[
      `ATTENDEE;RSVP=TRUE;PARTSTAT=NEEDS-ACTION:mailto:${myAddress}`,
      ...(part.more ?? []),
      'END:VEVENT',
      'END:VCALENDAR',
    ],
  ].join('\r\n');
  const messageId = `<${v7()}@penrow.example>`;
  const content = [
    'Authentication-Results: mx.kettle.test; dmarc=pass',
    ...[
      `From: Maud Ellery <${from}>`,
      `To: ${myAddress}`,
      'Subject: Boiler house',
      `Message-ID: ${messageId}`,
    ],
    ...['MIME-Version: 1.0', `Content-Type: text/calendar; method=${method}; charset=utf-8`, '', text],
  ].join('\r\n');
  await storeArrival(installation.services, {
    content: Buffer.from(content),
    ...{ envelopeFrom: from, envelopeTo: myAddress, checks: null },
  });
  await installation.work();
  const { rows } = await rep.ok('listMail', { query: {} });
  const [mail] = await installation.services.database.rows<{ id: Buffer }>(
    'SELECT id FROM mail WHERE message_id = :messageId',
    { messageId },
  );
  return rows.find(({ id }) => id.replaceAll('-', '') === mail!.id.toString('hex'))!.id;
}
const invitationOf = async (id: MailId) => (await rep.ok('getMail', { params: { id } })).invitation;
const answer = (id: MailId, said: string, words = '') =>
  rep.ok('answerReceived', { params: { id }, body: { answer: said, words } });
const settle = async () => {
  for (let turn = 0; turn < 3; turn += 1) {
    installation.clock.set(new Date(installation.clock.millis() + 30_000).toISOString());
    await installation.work();
  }
};
const replies = () =>
  server.got.map((mail) => {
    const part = mail.attachments.find(({ contentType }) => contentType === 'text/calendar')!;
    const calendar = readCalendar(part.content.toString('utf8'), 'UTC')!;
    const [event] = calendar.events;
    return [
      calendar.method,
      event!.uid,
      event!.sequence,
      event!.attendees[0]!.email,
      event!.attendees[0]!.answer,
    ];
  });
const mine = async () =>
  (await rep.ok('calendar', { query: { from: '2026-12-01', days: 14 } })).entries.map(
    ({ title, startsAt, contactName }) => [title, startsAt.slice(5, 16), contactName],
  );

test('an invitation is told and read; nothing is planned before it is answered', async () => {
  const id = await invite();
  expect(await invitationOf(id)).toEqual({
    ...{
      title: 'Boiler house',
      place: 'Mill Lane 3',
      startsAt: '2026-12-03T14:00:00.000Z',
      endsAt: '2026-12-03T15:00:00.000Z',
    },
    ...{ repeats: false, isWithdrawn: false, isMoved: false, answer: 'none', appointmentId: null },
  });
  expect((await rep.ok('listNotifications')).notifications.map(({ words }) => words)).toContain(
    'Maud Ellery invites you: Boiler house, Thu 3 Dec 14:00',
  );
  expect(await mine()).toEqual([]);
});

test('accepted, it is in the calendar with its person, and whoever invited is told as RFC 5546 has it', async () => {
  const id = await invite();
  const mail = await answer(id, 'accepted', 'I bring the plans.');
  expect([mail.invitation!.answer, mail.invitation!.appointmentId !== null]).toEqual(['accepted', true]);
  expect(await mine()).toEqual([['Boiler house', '12-03T14:00', maud.name]]);
  await settle();
  expect(replies()).toEqual([['REPLY', 'x1@penrow.example', 0, myAddress.toLowerCase(), 'accepted']]);
  const [out] = server.got;
  expect([out!.subject, out!.text!.startsWith('Accepted: Boiler house\n\nI bring the plans.')]).toEqual([
    'Accepted: Boiler house',
    true,
  ]);
  // Another implementation reads it.
  const part = out!.attachments.find(({ contentType }) => contentType === 'text/calendar')!;
  const theirs = Object.values(parseICS(part.content.toString('utf8'))).find(
    (each): each is VEvent => each?.type === 'VEVENT',
  )!;
  expect([theirs.uid, JSON.stringify(theirs.attendee)]).toEqual([
    'x1@penrow.example',
    expect.stringContaining('ACCEPTED'),
  ]);
});

test('undone at once, nobody is told and nothing is planned', async () => {
  const id = await invite();
  const changeId = v7();
  await rep.ok('answerReceived', { params: { id }, body: { answer: 'accepted' }, changeId });
  await rep.ok('undoChange', { params: { id: changeId }, body: {} });
  await settle();
  expect([replies(), await mine(), (await invitationOf(id))!.answer]).toEqual([[], [], 'none']);
});

test('declined after it was accepted, it is off here and told', async () => {
  const id = await invite();
  await answer(id, 'tentative');
  await answer(id, 'declined');
  expect(await mine()).toEqual([]);
  await settle();
  expect(
    replies()
      .map((each) => each[4])
      .sort(),
  ).toEqual(['declined', 'tentative']);
});

test('moved by whoever invited: told, and moved here once it is accepted again', async () => {
  const first = await invite();
  await answer(first, 'accepted');
  const second = await invite({ sequence: 1, start: '20261204T100000Z', end: '20261204T113000Z' });
  expect(await invitationOf(first)).toBeNull();
  expect(await invitationOf(second)).toMatchObject({
    isMoved: true,
    answer: 'accepted',
    startsAt: '2026-12-04T10:00:00.000Z',
  });
  expect(await mine()).toEqual([['Boiler house', '12-03T14:00', maud.name]]);
  await answer(second, 'accepted');
  expect(await mine()).toEqual([['Boiler house', '12-04T10:00', maud.name]]);
  expect((await invitationOf(second))!.isMoved).toBe(false);
});

test('in any order they end in one state: what was overtaken, and what comes twice, changes nothing', async () => {
  const last = await invite({ sequence: 2, start: '20261205T090000Z', end: '20261205T100000Z' });
  await invite({ sequence: 1, start: '20261204T090000Z' });
  await invite({ sequence: 2, start: '20261205T090000Z', end: '20261205T100000Z' });
  expect(await invitationOf(last)).toMatchObject({ startsAt: '2026-12-05T09:00:00.000Z' });
});

test('called off, it says so and can no longer be answered; a word from somebody else does nothing', async () => {
  const id = await invite();
  await answer(id, 'accepted');
  await invite({
    method: 'CANCEL',
    sequence: 1,
    from: 'evil@elsewhere.example',
    organizer: 'maud@penrow.example',
  });
  await invite({ method: 'CANCEL', sequence: 1, from: 'evil@elsewhere.example' });
  expect(await invitationOf(id)).toMatchObject({ isWithdrawn: false });
  const off = await invite({ method: 'CANCEL', sequence: 1 });
  expect(await invitationOf(off)).toMatchObject({ isWithdrawn: true, appointmentId: expect.any(String) });
  expect(
    (await rep.call('answerReceived', { params: { id: off }, body: { answer: 'accepted' } })).status,
  ).toBe(409);
  expect(await mine()).toHaveLength(1);
});

test('one that repeats says so; one that is over cannot be answered', async () => {
  expect(await invitationOf(await invite({ more: ['RRULE:FREQ=WEEKLY'] }))).toMatchObject({ repeats: true });
  const over = await invite({ uid: 'over', start: '20261101T100000Z', end: '20261101T110000Z' });
  expect(
    (await rep.call('answerReceived', { params: { id: over }, body: { answer: 'accepted' } })).status,
  ).toBe(422);
});

test('nobody answers in another’s name; a manager may for whom they lead', async () => {
  const id = await invite();
  const other = await installation.as('rep', 'Owen Marsh');
  expect(
    (await other.call('answerReceived', { params: { id }, body: { answer: 'accepted' } })).status,
  ).toBeGreaterThanOrEqual(403);
  expect(await invitationOf(id)).toMatchObject({ answer: 'none' });
});
