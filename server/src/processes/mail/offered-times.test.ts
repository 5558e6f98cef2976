import type { Contact } from '@kettle/contract';
import request from 'supertest';
import { v7 } from 'uuid';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf } from '../../../testing/people';
import { smtpOut } from './mail-out';

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

const times = ['2026-12-01T10:00:00.000Z', '2026-12-02T13:00:00.000Z', '2026-12-03T14:00:00.000Z'];
const offer = (part: object = {}, changeId?: string) =>
  rep.ok('offerTimes', {
    body: { contactId: maud.id, title: 'Survey', minutes: 60, place: 'Mill Lane 3', times, ...part },
    ...(changeId && { changeId }),
  });
const pass = async (seconds: number) => {
  installation.clock.set(new Date(installation.clock.millis() + seconds * 1000).toISOString());
  await installation.work();
};
/** The page that the mail leads to, as the customer opens it. */
async function linkOf(): Promise<string> {
  await pass(30);
  const [, path] = /https?:\/\/[^/]+(\/out\/calendar\/times\/\S+)/.exec(server.got.at(-1)!.text ?? '')!;
  return path!;
}
const open = (path: string) => request(installation.app).get(path);
const press = (path: string, form: object) => request(installation.app).post(path).type('form').send(form);
const planned = async () =>
  (await rep.ok('calendar', { query: { from: '2026-11-30', days: 7 } })).entries.map(
    ({ startsAt, title }) => [startsAt, title],
  );
const told = async () => (await rep.ok('listNotifications')).notifications.map(({ words }) => words);

describe('times to choose among', () => {
  test('are sent as their clock shows them, and looking at the page changes nothing', async () => {
    await offer();
    const path = await linkOf();
    const { subject, text } = server.got[0]!;
    expect(subject).toBe('When does it suit you? Survey');
    // An hour later in the Netherlands.
    expect(text).toContain('- Tue 1 Dec, 11:00');
    const page = await open(path);
    expect(page.status).toBe(200);
    expect(page.text).toContain('Wed 2 Dec, 14:00');
    expect(page.text).toContain('Times are as the clock shows in Europe/Amsterdam.');
    expect(page.headers['content-security-policy']).toContain("default-src 'none'");
    expect(await planned()).toEqual([]);
  });

  test('one press makes the appointment with its invitation; a second press, or another, changes nothing', async () => {
    await offer();
    const path = await linkOf();
    const first = await press(path, { at: times[1] });
    expect(first.text).toContain('Agreed: Wed 2 Dec, 14:00, with Imogen Thorne.');
    await press(path, { at: times[0] });
    await press(path, { at: times[1] });
    expect(await planned()).toEqual([[times[1], 'Survey']]);
    expect((await open(path)).text).toContain('Agreed: Wed 2 Dec, 14:00');
    expect(await told()).toContain(`${maud.name} chose Wed 2 Dec, 13:00: Survey`);
    expect((await journalOf(rep, { contactId: maud.id })).map(({ body }) => body)).toContain(
      `${maud.name} chose Wed 2 Dec, 13:00: Survey`,
    );
    await pass(60);
    await pass(60);
    expect(server.got.at(-1)!.subject).toBe('Invitation: Survey');
    const { tasks } = await rep.ok('listTasks', { query: { contactId: maud.id } });
    expect(tasks).toMatchObject([{ channel: 'meeting', promisedAt: times[1], minutes: 60 }]);
  });

  test('two who press at once agree one time', async () => {
    await offer();
    const path = await linkOf();
    await Promise.all(times.map((at) => press(path, { at })));
    expect(await planned()).toHaveLength(1);
  });

  test('what was taken meanwhile is not offered any more, and says so when it is pressed', async () => {
    await offer();
    const path = await linkOf();
    await rep.ok('planAppointment', {
      body: { title: 'Other', startsAt: '2026-12-02T13:30:00.000Z', minutes: 30 },
    });
    const page = await open(path);
    expect(page.text).not.toContain('Wed 2 Dec');
    const pressed = await press(path, { at: times[1] });
    expect(pressed.text).toContain('That time is not free any more. Please choose another.');
    expect(pressed.text).toContain('Thu 3 Dec, 15:00');
    installation.clock.set('2026-12-04T09:00:00.000Z');
    expect((await open(path)).text).toContain('None of these times is free any more.');
  });

  test('none of them suits: the words come to whoever asked', async () => {
    await offer();
    const path = await linkOf();
    const page = await press(path, { words: 'Rather <b>Friday</b>, after ten' });
    expect(page.text).toContain('We have your words');
    expect(await told()).toContain(`None of the times suits ${maud.name}: Rather <b>Friday</b>, after ten`);
    expect(await planned()).toEqual([]);
  });

  test('nonsense, a foreign time and another’s link do nothing', async () => {
    await offer();
    const path = await linkOf();
    await press(path, { at: 'tomorrow' });
    await press(path, { at: '2026-12-09T10:00:00.000Z' });
    await press(path, {});
    expect(await planned()).toEqual([]);
    expect((await open(`${path.slice(0, -4)}AAAA`)).status).toBe(404);
  });

  test('undone before the mail leaves, nobody is asked', async () => {
    const change = v7();
    await offer({}, change);
    await rep.ok('undoChange', { params: { id: change } });
    await pass(60);
    expect(server.got).toEqual([]);
  });

  test('somebody without an address, and a time that has passed, are refused at once', async () => {
    const nobody = await aContact(rep, { email: null });
    const ask = async (part: object) =>
      (
        await rep.call('offerTimes', {
          body: { contactId: maud.id, title: 'Survey', minutes: 60, times, ...part },
        })
      ).body;
    expect(await ask({ contactId: nobody.id })).toMatchObject({
      fields: [{ path: 'contactId', message: 'has no e-mail address' }],
    });
    expect(await ask({ times: ['2026-11-20T10:00:00.000Z'] })).toMatchObject({ code: 'in-the-past' });
    expect(await ask({ times: [...times, '2026-12-04T10:00:00.000Z'] })).toMatchObject({
      fields: [{ path: 'times', message: 'at most three, so that it is easy to choose' }],
    });
  });
});
