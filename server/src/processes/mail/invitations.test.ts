import type { Appointment, Contact } from '@kettle/contract';
import { readCalendar, writeCalendar, type InvitationAnswer } from '@kettle/core/invitations';
import { v7 } from 'uuid';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf } from '../../../testing/people';
import { smtpOut } from './mail-out';
import { storeArrival } from './store-arrival';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let maud: Contact;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  maud = await aContact(rep, { email: 'maud@penrow.example', country: 'NL', phone: null });
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const at = (time: string, day = '2026-12-03') => `${day}T${time}:00.000Z`;
const plan = (part: object = {}, changeId?: string) =>
  rep.ok('planAppointment', {
    body: {
      ...{ title: 'Survey', startsAt: at('14:00'), minutes: 60, place: 'Mill Lane 3', invites: true },
      ...{ contactId: maud.id, ...part },
    },
    ...(changeId !== undefined && { changeId }),
  });
const read = (id: string) => rep.ok('getAppointment', { params: { id } });
const change = async (id: string, part: object, changeId?: string) =>
  rep.ok('changeAppointment', {
    params: { id },
    body: { version: (await read(id)).version, ...part },
    ...(changeId !== undefined && { changeId }),
  });
/** Lets the time pass in which a change may still be undone, and all that waits go out. */
const settle = async () => {
  for (let turn = 0; turn < 4; turn += 1) {
    installation.clock.set(new Date(installation.clock.millis() + 30_000).toISOString());
    await installation.work();
  }
};
/** Who was sent what: method, sequence and subject, in the order of the sendings. */
const sent = () =>
  server.got
    .map((mail) => {
      const part = mail.attachments.find(({ contentType }) => contentType === 'text/calendar')!;
      const calendar = readCalendar(part.content.toString('utf8'), 'UTC')!;
      const to = [mail.to ?? []].flat()[0]!.text;
      return [to, calendar.method, calendar.events[0]!.sequence, mail.subject] as const;
    })
    .sort((one, other) => one[2] - other[2] || (one[0] < other[0] ? -1 : 1));
const uidOf = ({ id }: Appointment) => `${id}@kettle.test`;

interface Reply {
  readonly method?: 'REPLY' | 'COUNTER';
  readonly answer?: InvitationAnswer;
  readonly sequence?: number;
  readonly stampedAt?: string;
  readonly startsAt?: string;
  readonly from?: string;
  readonly words?: string;
  readonly isProven?: boolean;
}

async function reply(made: Appointment, part: Reply = {}): Promise<void> {
  const { method = 'REPLY', answer = 'accepted', sequence = 0, startsAt = made.startsAt } = part;
  const from = part.from ?? 'maud@penrow.example';
  const text = writeCalendar({
    method: 'REPLY',
    events: [
      {
        ...{
          uid: uidOf(made),
          sequence,
          stampedAt: part.stampedAt ?? at('08:00', '2026-11-25'),
          title: made.title,
        },
        ...{ startsAt, endsAt: new Date(Date.parse(startsAt) + 3_600_000).toISOString() },
        ...{ place: null, description: null, isCancelled: false, organizer: null },
        attendees: [{ name: 'Maud', email: from, answer }],
      },
    ],
  })
    .replace('METHOD:REPLY', `METHOD:${method}`)
    .replace('END:VEVENT', part.words ? `COMMENT:${part.words}\r\nEND:VEVENT` : 'END:VEVENT');
  const content = [
    ...(part.isProven === false ? [] : ['Authentication-Results: mx.kettle.test; dmarc=pass']),
    `From: Maud Ellery <${from}>`,
    'To: rep@hollinbeck.example',
    `Subject: Accepted: ${made.title}`,
    `Message-ID: <${v7()}@penrow.example>`,
    'MIME-Version: 1.0',
    `Content-Type: text/calendar; method=${method}; charset=utf-8`,
    '',
    text,
  ].join('\r\n');
  await storeArrival(installation.services, {
    content: Buffer.from(content),
    envelopeFrom: from,
    envelopeTo: 'rep@hollinbeck.example',
    checks: null,
  });
  await installation.work();
}

test('whoever is invited gets the invitation as RFC 6047 has it, with the same in words for their own zone', async () => {
  const made = await plan({ note: 'He haggles.' });
  await installation.work();
  expect(server.got).toEqual([]);
  await settle();
  const [mail] = server.got;
  expect(mail!.subject).toBe('Invitation: Survey');
  expect(mail!.text).toContain('Thu 3 Dec, 15:00–16:00 (Europe/Amsterdam)\nMill Lane 3');
  expect(mail!.text).not.toContain('haggles');
  const part = mail!.attachments.find(({ contentType }) => contentType === 'text/calendar')!;
  expect(part.contentType).toBe('text/calendar');
  const calendar = readCalendar(part.content.toString('utf8'), 'UTC')!;
  expect(calendar).toMatchObject({
    method: 'REQUEST',
    events: [
      {
        ...{
          uid: uidOf(made),
          sequence: 0,
          startsAt: at('14:00'),
          endsAt: at('15:00'),
          place: 'Mill Lane 3',
        },
        organizer: { name: 'Imogen Thorne' },
        attendees: [{ email: 'maud@penrow.example', answer: 'none' }],
      },
    ],
  });
  expect((await read(made.id)).invitations).toMatchObject([{ email: 'maud@penrow.example', answer: 'none' }]);
});

test('nobody hears of what was undone at once; several changes in a moment are one mail', async () => {
  const [planned, moved] = [v7(), v7()];
  const first = await plan({}, planned);
  await rep.ok('undoChange', { params: { id: planned }, body: {} });
  await settle();
  expect(sent()).toEqual([]);
  const made = await plan();
  await change(made.id, { startsAt: at('15:00') }, moved);
  await change(made.id, { title: 'Second survey' });
  await settle();
  expect(sent()).toEqual([['maud@penrow.example', 'REQUEST', 0, 'Invitation: Second survey']]);
  expect(first.id).not.toBe(made.id);
});

test('a change anywhere tells them, a further guest is invited alone, one who is left out hears that it is off', async () => {
  const made = await plan();
  await settle();
  const owen = await aContact(rep, { email: 'owen@penrow.example' });
  await change(made.id, { guestIds: [owen.id] });
  await settle();
  // In the Round the step is put to another day, without a time: it is off until it has one.
  const [task] = (await rep.ok('listTasks', { query: { contactId: maud.id } })).tasks;
  await rep.ok('deferTask', {
    params: { id: task!.id },
    body: { version: task!.version, dueOn: '2026-12-04' },
  });
  await settle();
  expect(sent()).toEqual([
    ['maud@penrow.example', 'REQUEST', 0, 'Invitation: Survey'],
    ['owen@penrow.example', 'REQUEST', 1, 'Invitation: Survey'],
    ['maud@penrow.example', 'CANCEL', 2, 'Cancelled: Survey'],
    ['owen@penrow.example', 'CANCEL', 2, 'Cancelled: Survey'],
  ]);
});

test('an undo after they were told tells them what holds again, with a higher number', async () => {
  const moved = v7();
  const made = await plan();
  await settle();
  await change(made.id, { startsAt: at('09:00') }, moved);
  await settle();
  await rep.ok('undoChange', { params: { id: moved }, body: {} });
  await settle();
  expect(sent().map(([, method, sequence]) => [method, sequence])).toEqual([
    ['REQUEST', 0],
    ['REQUEST', 1],
    ['REQUEST', 2],
  ]);
  expect(
    readCalendar(server.got[2]!.attachments[0]!.content.toString('utf8'), 'UTC')!.events[0],
  ).toMatchObject({
    startsAt: at('14:00'),
  });
});

test('what they answer comes back: into the appointment, the journal, to the owner; no letter is waited for', async () => {
  const made = await plan();
  await settle();
  await reply(made, { words: 'With pleasure' });
  expect((await read(made.id)).invitations).toMatchObject([{ answer: 'accepted', words: 'With pleasure' }]);
  const [entry] = await journalOf(rep, { contactId: maud.id });
  expect(entry).toMatchObject({
    kind: 'system',
    body: 'Answer to the invitation: accepted: Survey, Thu 3 Dec 14:00 “With pleasure”',
  });
  const told = (await rep.ok('listNotifications', {})).notifications.map(({ words }) => words);
  expect(told[0]).toContain('accepted: Survey, Thu 3 Dec 14:00');
  const round = await rep.ok('round');
  expect([...round.above, ...round.below].filter(({ kind }) => kind === 'reply')).toEqual([]);
});

test('answers twice, out of order and to a time that was changed end in one state', async () => {
  const made = await plan();
  await settle();
  await reply(made, { answer: 'declined', stampedAt: at('09:00', '2026-11-25') });
  await reply(made, { answer: 'accepted', stampedAt: at('08:00', '2026-11-25') });
  await reply(made, { answer: 'declined', stampedAt: at('09:00', '2026-11-25') });
  expect((await read(made.id)).invitations[0]!.answer).toBe('declined');
  expect(
    (await journalOf(rep, { contactId: maud.id })).filter(({ body }) => body.startsWith('Answer')),
  ).toHaveLength(1);
  await change(made.id, { startsAt: at('16:00') });
  await settle();
  expect((await read(made.id)).invitations[0]!.answer).toBe('none');
  await reply(made, { answer: 'accepted', sequence: 0, stampedAt: at('10:00', '2026-11-26') });
  expect((await read(made.id)).invitations[0]!.answer).toBe('none');
  await reply(made, { answer: 'accepted', sequence: 1, stampedAt: at('11:00', '2026-11-26') });
  expect((await read(made.id)).invitations[0]!.answer).toBe('accepted');
});

test('declined, or another time proposed, stands in the Round until somebody acts on it', async () => {
  const made = await plan();
  await settle();
  await reply(made, { method: 'COUNTER', startsAt: at('10:00', '2026-12-04'), answer: 'none' });
  expect((await read(made.id)).invitations[0]).toMatchObject({
    answer: 'tentative',
    counter: { startsAt: at('10:00', '2026-12-04'), endsAt: at('11:00', '2026-12-04') },
  });
  const stirrings = (await rep.ok('listStirrings')).rows.map(({ words }) => words);
  expect(stirrings[0]).toContain('proposes another time, Fri 4 Dec 10:00');
});

test.each<[string, Reply]>([
  ['in another’s name', { from: 'stranger@elsewhere.example' }],
  ['that nobody vouches for', { isProven: false }],
])('an answer %s changes nothing', async (_, part) => {
  const made = await plan();
  await settle();
  await aContact(rep, { email: 'stranger@elsewhere.example' });
  await reply(made, part);
  expect((await read(made.id)).invitations).toMatchObject([{ answer: 'none' }]);
});

test('a server that stops while it tells them tells each once', async () => {
  await plan();
  installation.clock.set(new Date(installation.clock.millis() + 30_000).toISOString());
  // The answer to the first handing over is lost: whether it arrived nobody can know, and it is not sent again by itself.
  server.behave('vanish');
  await installation.work();
  await settle();
  server.behave('accept');
  await settle();
  expect(sent()).toHaveLength(1);
});
