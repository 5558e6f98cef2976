import { noticeKinds, type ToldSettings } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, aTask } from '../../../testing/people';
import { askForDailyWork } from '../../features';
import { bytesOf } from '../../platform/ids';
import { smtpOut } from '../../processes/mail/index';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let manager: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  manager = await installation.as('manager', 'Corin Vale');
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

/** What the rep was told, the newest first; read where it is kept, as weeks pass and sessions end. */
const told = async (): Promise<string[]> => {
  const rows = await installation.services.database.rows<{ words: string }>(
    'SELECT words FROM notification WHERE user_id = :user ORDER BY created_at DESC, id DESC',
    { user: bytesOf(rep.id) },
  );
  return rows.map(({ words }) => words);
};
/** The morning of a day: its daily work, and what that asks for. */
async function morning(at: string): Promise<void> {
  installation.clock.set(at);
  await askForDailyWork(installation.services);
  await installation.work();
}
const settings = (
  part: Partial<ToldSettings['choices'][number]>,
  digestMinute: number | null = null,
  quietHours: ToldSettings['quietHours'] = null,
) => ({
  quietHours,
  choices: noticeKinds.map((kind) => ({ kind, level: 'all', byBrowser: true, byMail: false, ...part })),
  digestMinute,
});
const choose = (body: object, changeId?: string) =>
  rep.ok('changeToldSettings', { body, ...(changeId && { changeId }) });
const giveTask = async (part: object = {}) => {
  const contact = await aContact(rep);
  await aTask(manager, contact.id, { ownerId: rep.id, purpose: 'ask for the meter', ...part });
};

describe('how somebody is told', () => {
  test('of everything, until they say otherwise; of a kind not at all once they do, and an undo brings it back', async () => {
    await giveTask();
    expect(await told()).toEqual([expect.stringContaining('gave you a task: ask for the meter')]);
    const change = v7();
    await choose(settings({ level: 'none' }), change);
    await giveTask();
    expect(await told()).toHaveLength(1);
    await rep.ok('undoChange', { params: { id: change } });
    await giveTask();
    expect(await told()).toHaveLength(2);
  });

  test('of what is important alone: a reminder is, a task that was given is not', async () => {
    await choose(settings({ level: 'important' }));
    await giveTask();
    const contact = await aContact(rep);
    await aTask(rep, contact.id, { promisedMinute: 600, remindMinutes: 15, purpose: 'ring back' });
    installation.clock.set('2026-11-24T09:46:00.000Z');
    await installation.work();
    expect(await told()).toEqual([expect.stringContaining('ring back')]);
  });

  test('by mail as well, with the place it leads to; not once it was read', async () => {
    await choose(settings({ byMail: true }));
    await giveTask();
    await installation.work();
    expect(server.got).toHaveLength(1);
    const [mail] = server.got;
    expect(mail!.subject).toContain('gave you a task: ask for the meter');
    expect(mail!.text).toMatch(/\/people\/[0-9a-f-]{36}/);
    expect(mail!.headers.get('auto-submitted')).toBe('auto-generated');
    await giveTask();
    await rep.ok('readNotifications');
    await installation.work();
    expect(server.got).toHaveLength(1);
  });

  test('a mail that the server could not take is tried again, as the same mail', async () => {
    await choose(settings({ byMail: true }));
    await giveTask();
    server.behave('later');
    await installation.work();
    expect(server.got).toHaveLength(0);
    server.behave('accept');
    installation.clock.set('2026-11-24T10:30:00.000Z');
    await installation.work();
    expect(server.got).toHaveLength(1);
  });

  test('each kind has one line', async () => {
    const { choices } = settings({});
    const twice = [...choices.slice(1), choices[1]];
    const answer = await rep.call('changeToldSettings', {
      body: { choices: twice, digestMinute: null, quietHours: null },
    });
    expect(answer.body.fields).toMatchObject([{ path: 'choices', message: 'has one line for each kind' }]);
    expect(await rep.ok('toldSettings')).toEqual({ ...settings({}), digestMinute: null });
  });
});

describe('what a morning tells', () => {
  test('who has gone quiet since the last working day, in one line, and once', async () => {
    const contact = await aContact(rep);
    const other = await aContact(rep);
    const due = (await rep.ok('getContact', { params: { id: contact.id } })).checkInDueOn!;
    // Quiet from the day after; told once, also when the day's work is asked for again.
    const next = new Date(Date.parse(`${due}T12:00:00Z`) + 86_400_000).toISOString().slice(0, 10);
    await morning(`${due}T09:10:00.000Z`);
    expect(await told()).toEqual([]);
    await morning(`${next}T09:10:00.000Z`);
    await morning(`${next}T11:10:00.000Z`);
    expect(await told()).toEqual([`2 people have gone quiet: ${contact.name}, ${other.name}`]);
  });

  test('a renewal that comes up, once more when its notice closes, and a parked deal that wakes', async () => {
    const contact = await aContact(rep);
    await rep.ok('createAgreement', {
      body: {
        ...{
          contactId: contact.id,
          name: 'Salt',
          startsOn: '2026-01-05',
          termMonths: 12,
          valueMinor: 90_000,
        },
        ...{ noticeDays: 10, leadDays: 20, renewsItself: true },
      },
    });
    const deal = await aDeal(rep, contact.id, { name: 'Second softener' });
    await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'parked', version: deal.version, wakeOn: '2026-12-04', reason: 'next budget year' },
    });
    await morning('2026-12-04T09:10:00.000Z');
    expect((await told()).sort()).toEqual([
      'A parked deal wakes: Second softener (next budget year)',
      expect.stringMatching(/^A renewal comes up: Salt, notice closes /),
    ]);
    await morning('2026-12-07T09:10:00.000Z');
    expect(await told()).toHaveLength(2);
    await morning('2026-12-21T09:10:00.000Z');
    expect((await told())[0]).toMatch(/^Notice closes .*: Salt$/);
  });

  test('nothing on a day off', async () => {
    await choose(settings({}, 480));
    await morning('2026-11-28T09:10:00.000Z');
    expect(await told()).toEqual([]);
    expect(server.got).toHaveLength(0);
  });
});

describe('the morning’s mail', () => {
  test('goes out at each person’s own minute, with the day and the first rows of the Round', async () => {
    const contact = await aContact(rep);
    await aTask(rep, contact.id, { purpose: 'ask for the price' });
    await rep.ok('planAppointment', {
      body: { title: 'Team call', startsAt: '2026-11-24T10:00:00.000Z', minutes: 30, place: 'the office' },
    });
    await choose(settings({}, 9 * 60 + 30));
    await morning('2026-11-24T09:20:00.000Z');
    expect(server.got).toHaveLength(0);
    await morning('2026-11-24T09:31:00.000Z');
    expect(server.got).toHaveLength(1);
    const { text = '', subject } = server.got[0]!;
    expect(subject).toBe('Tue 24 Nov: 1 to do, 434 minutes free');
    expect(text).toContain('Good morning Imogen,');
    expect(text).toContain('10:00–10:30 Team call, the office');
    expect(text).toContain(`1. ${contact.name}, ${contact.companyName!}: ask for the price (due today) · £`);
    expect(text).toContain('1 in the Round, 1 of them fit into 434 free minutes.');
    await morning('2026-11-24T12:00:00.000Z');
    expect(server.got).toHaveLength(1);
  });

  test('not once another time was chosen, nor when the morning is over', async () => {
    await choose(settings({}, 600));
    await morning('2026-11-24T09:20:00.000Z');
    await choose(settings({}, null));
    await morning('2026-11-24T10:01:00.000Z');
    expect(server.got).toHaveLength(0);
    await choose(settings({}, 500));
    await morning('2026-11-24T14:00:00.000Z');
    expect(server.got).toHaveLength(0);
  });

  test('in another zone it is another hour', async () => {
    await rep.ok('changeMyHours', {
      body: {
        version: (await rep.ok('session')).person.version,
        ...{
          zone: 'Europe/Lisbon',
          country: 'PT',
          hours: { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1050 },
        },
      },
    });
    await choose(settings({}, 600));
    installation.clock.set('2026-07-06T08:00:00.000Z');
    await morning('2026-07-06T08:59:00.000Z');
    expect(server.got).toHaveLength(0);
    // Ten in Lisbon is nine of UTC in summer.
    await morning('2026-07-06T09:01:00.000Z');
    expect(server.got).toHaveLength(1);
  });
});
