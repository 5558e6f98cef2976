import type { Channel } from '@kettle/contract';
import { ofChannels } from '@kettle/contract/base/channels';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aTask } from '../../../testing/people';
import { bytesOf, newId } from '../../platform/ids';
import { learnMinutes } from './learned-minutes';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  colleague = await installation.as('rep', 'Dara Osei');
});
afterEach(() => installation.close());

const db = () => installation.services.database;
const usual = ofChannels((_, name) => (name === 'call' ? 6 : 20));
const learn = () => db().transaction((tx) => learnMinutes(tx, installation.clock.now(), usual));
const timed = (
  contactId: string,
  lengths: readonly number[],
  part: { kind?: Channel; at?: string; who?: Caller } = {},
) =>
  db().change(
    'INSERT INTO journal_entry (id, at, kind, direction, counts, minutes, body, is_rich, user_id, contact_id, created_at, version) VALUES :rows',
    {
      rows: lengths.map((minutes) => [
        ...[
          bytesOf(newId()),
          part.at ?? '2026-11-20 10:00:00',
          part.kind ?? 'call',
          'out',
          'conversation',
          minutes,
          '',
          0,
        ],
        ...[bytesOf((part.who ?? rep).id), bytesOf(contactId), '2026-11-20 10:00:00', 1],
      ]),
    },
  );
const minutesOf = async (contactId: string, who = rep) => {
  const round = await who.ok('round');
  return [...round.above, ...round.below].find((row) => row.contactId === contactId)?.minutes;
};

describe('how long acts take', () => {
  test('is learned of each colleague and used in their Round, with some people of its own', async () => {
    const [talker, other, third] = [await aContact(rep), await aContact(rep), await aContact(rep)];
    for (const contact of [talker, other]) await aTask(rep, contact.id, { minutes: 6 });
    await timed(talker.id, [30, 30, 30, 30, 30, 30]);
    await timed(third.id, [10, 10, 10, 10]);
    await learn();
    // All: (180 + 40 + 10 × 6) / 20 = 14; with the talker (180 + 3 × 14) / 9 = 25.
    expect(await minutesOf(other.id)).toBe(14);
    expect(await minutesOf(talker.id)).toBe(25);
    expect(await rep.ok('walkItem', { query: { contactId: talker.id, channel: 'call' } })).toMatchObject({
      minutes: 25,
      usualMinutes: 6,
    });
  });

  test('a length that somebody gave by hand stays', async () => {
    const contact = await aContact(rep);
    await aTask(rep, contact.id, { minutes: 45 });
    await timed(contact.id, [10, 10, 10, 10]);
    await learn();
    expect(await minutesOf(contact.id)).toBe(45);
  });

  test('nothing is learned of one or two acts with somebody, of last year, or of what was taken back', async () => {
    const [twice, old, taken] = [await aContact(rep), await aContact(rep), await aContact(rep)];
    await timed(twice.id, [60, 60]);
    await timed(old.id, [90, 90, 90, 90], { at: '2025-10-01 10:00:00' });
    await timed(taken.id, [40, 40, 40, 40]);
    await db().change('UPDATE journal_entry SET removed_at = at WHERE minutes = 40');
    await learn();
    const rows = await db().rows<{ minutes: number; cases: number; own: number }>(
      'SELECT minutes, cases, contact_id IS NOT NULL AS own FROM learned_minutes ORDER BY cases',
    );
    // (120 + 10 × 6) / 12 = 15, for all.
    expect(rows).toEqual([{ minutes: 15, cases: 2, own: 0 }]);
  });

  test('is learned anew each time, and only of one’s own acts', async () => {
    const contact = await aContact(rep);
    await timed(contact.id, [30, 30, 30, 30], { who: colleague });
    await learn();
    await learn();
    await aTask(rep, contact.id, { minutes: 6 });
    expect(await minutesOf(contact.id)).toBe(6);
    expect(await db().rows('SELECT channel FROM learned_minutes')).toHaveLength(2);
  });
});

describe('a walk through chosen records', () => {
  const plan = (body: object) => rep.ok('planWalk', { body });

  test('goes in the order given, each with its person and channel', async () => {
    const [one, two] = [await aContact(rep), await aContact(rep)];
    const [first, second] = [
      await aTask(rep, one.id, { channel: 'email', minutes: 4 }),
      await aTask(rep, two.id, { minutes: 9 }),
    ];
    const walk = await plan({ kind: 'task', ids: [second.id, first.id] });
    expect(walk).toMatchObject({
      left: 0,
      stops: [
        { taskId: second.id, contactId: two.id, channel: 'call', minutes: 9, name: two.name },
        { taskId: first.id, contactId: one.id, channel: 'email', minutes: 4, name: one.name },
      ],
    });
  });

  test('leaves out what is done, closed or about somebody who is there already, and says how many', async () => {
    const contact = await aContact(rep);
    const task = await aTask(rep, contact.id);
    await rep.ok('finishTask', { params: { id: task.id } });
    expect(await plan({ kind: 'task', ids: [task.id] })).toEqual({ stops: [], left: 1 });
    expect(await plan({ kind: 'contact', ids: [contact.id, contact.id] })).toMatchObject({
      stops: [{ contactId: contact.id, taskId: null }],
      left: 1,
    });
  });

  test('goes through deals and leads by their people', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id);
    const lead = await aLead(rep);
    expect(await plan({ kind: 'deal', ids: [deal.id] })).toMatchObject({
      stops: [{ contactId: contact.id, dealId: deal.id }],
    });
    expect((await plan({ kind: 'lead', ids: [lead.id] })).stops).toHaveLength(1);
  });
});
