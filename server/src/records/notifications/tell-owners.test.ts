import { randomUUID } from 'node:crypto';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, aLog, aTask } from '../../../testing/people';
import { smtpOut } from '../../processes/mail/index';
import { isQuietAt } from './quiet-hours';
import { noticeKinds } from '@kettle/contract';

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

const toldTo = async (who: Caller) => {
  const { notifications } = await who.ok('listNotifications');
  return notifications.map(({ words, path, kind }) => ({ words, path, kind }));
};
const stagesOf = async () => (await rep.ok('listDeals', { query: { owner: 'mine' } })).pipelines[0]!.stages;
const move = async (by: Caller, deal: { id: string; version: number }, stageId: string, changeId: string) =>
  by.ok('moveDeal', {
    params: { id: deal.id },
    body: { version: deal.version, stageId, expectedCloseOn: '2026-12-10', tick: [] },
    changeId,
  });

describe('whose records a colleague changes', () => {
  test('is told what and by whom, with the way there; who changes their own is told nothing', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id, { name: 'Softener' });
    expect(await toldTo(rep)).toEqual([]);
    const [, second] = await stagesOf();
    await move(manager, deal, second!.id, randomUUID());
    expect(await toldTo(rep)).toEqual([
      {
        words: expect.stringMatching(/^Corin Vale changed your deal “Softener”: Softener: .* → /),
        path: `/deals/${deal.id}`,
        kind: 'changed',
      },
    ]);
    expect(await toldTo(manager)).toEqual([]);
  });

  test('their open pages hear of the notice at once, though a colleague wrote it', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const [, second] = await stagesOf();
    await move(manager, deal, second!.id, randomUUID());
    const heard = await installation.services.database.rows<{ owners: string; told: number }>(
      "SELECT owners, told FROM event WHERE topic = 'notification' ORDER BY id",
    );
    expect(heard.map(({ owners, told }) => [JSON.parse(owners), told])).toEqual([[[rep.id], 1]]);
  });

  test('what was undone takes its notice back', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const [, second] = await stagesOf();
    const id = v7();
    await move(manager, deal, second!.id, id);
    expect(await toldTo(rep)).toHaveLength(1);
    await manager.ok('undoChange', { params: { id } });
    expect(await toldTo(rep)).toEqual([]);
  });

  test('who undoes what a colleague did tells them', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const [, second] = await stagesOf();
    const id = v7();
    await move(rep, deal, second!.id, id);
    await manager.ok('undoChange', { params: { id } });
    expect((await toldTo(rep)).map(({ words }) => words)).toEqual([
      expect.stringContaining('Corin Vale undid what you did'),
    ]);
  });

  test('of many at once they are told once, with how many', async () => {
    const contacts = [];
    for (let n = 0; n < 5; n += 1) contacts.push(await aContact(rep));
    const id = randomUUID();
    await manager.ok('startBulk', {
      body: {
        id,
        selection: { ids: contacts.map((each) => each.id) },
        act: { kind: 'add-tag', tag: 'spring' },
      },
    });
    await installation.work();
    expect(await toldTo(rep)).toEqual([
      {
        words: expect.stringContaining('Corin Vale changed 5 people of yours'),
        path: '/people',
        kind: 'changed',
      },
    ]);
    await manager.ok('undoBulk', { params: { id } });
    await installation.work();
    expect(await toldTo(rep)).toEqual([]);
  });

  test('many tasks are given to anybody, who is told once', async () => {
    const other = await installation.as('rep', 'Dara Finch');
    const ids = [(await aContact(rep)).id, (await aContact(rep)).id];
    const act = {
      kind: 'task',
      channel: 'call',
      purpose: 'the autumn offer',
      dueOn: '2026-11-26',
      ownerId: other.id,
    };
    await manager.ok('startBulk', { body: { id: randomUUID(), selection: { ids }, act } });
    await installation.work();
    expect(await toldTo(other)).toEqual([
      { words: 'Corin Vale gave you 2 tasks: the autumn offer', path: '/tasks', kind: 'given' },
    ]);
    expect(await toldTo(rep)).toEqual([]);
  });

  test('given away, whose they were is told, and whose they are as something given', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id, { name: 'Filters' });
    const other = await installation.as('rep', 'Dara Finch');
    await manager.ok('giveRecords', { body: { kind: 'deal', ids: [deal.id], ownerId: other.id } });
    expect((await toldTo(rep)).map(({ words }) => words)).toEqual([
      expect.stringContaining('Corin Vale changed your deal “Filters”'),
    ]);
    expect((await toldTo(other)).map(({ kind }) => kind)).toEqual(['given']);
  });

  test('a log of a colleague is not a change of the record', async () => {
    const contact = await aContact(rep);
    await aLog(manager, contact.id);
    await aTask(manager, contact.id, { ownerId: manager.id });
    expect(await toldTo(rep)).toEqual([]);
  });
});

describe('how they are told', () => {
  const settings = (part: object) => ({
    choices: noticeKinds.map((kind) => ({ kind, level: 'all', byBrowser: true, byMail: true })),
    ...{ digestMinute: null, quietHours: null, ...part },
  });
  const choose = (part: object) => rep.ok('changeToldSettings', { body: settings(part) as never });
  const change = async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const [, second] = await stagesOf();
    await move(manager, deal, second!.id, randomUUID());
    await installation.work();
  };

  test('in quiet hours by the bell alone; the mail comes when they end', async () => {
    await choose({ quietHours: { from: 540, to: 600 } });
    expect((await rep.ok('toldSettings')).quietHours).toEqual({ from: 540, to: 600 });
    await change();
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications).toMatchObject([{ kind: 'changed', byBrowser: false }]);
    expect(server.got).toHaveLength(0);
    installation.clock.set('2026-11-24T10:00:00.000Z');
    await installation.work();
    expect(server.got.map(({ subject }) => subject)).toEqual([expect.stringContaining('Corin Vale changed')]);
  });

  test('not at all where they want to hear nothing of it; whoever names them is always heard', async () => {
    const none = noticeKinds.map((kind) => ({ kind, level: 'none', byBrowser: false, byMail: false }));
    await choose({ choices: none });
    await change();
    expect(await toldTo(rep)).toEqual([]);
  });

  test('hours over midnight', () => {
    const night = { from: 20 * 60, to: 7 * 60 };
    expect([30, 7 * 60 - 1, 7 * 60, 12 * 60, 20 * 60].map((minute) => isQuietAt(night, minute))).toEqual([
      ...[true, true, false, false, true],
    ]);
  });
});
