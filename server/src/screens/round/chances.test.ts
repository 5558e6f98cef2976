import { fitFalling, fitFloor, type Cases, usualOf } from '@kettle/core/round';
import type { LearnedName } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, stagesOf } from '../../../testing/people';
import { bytesOf, newId } from '../../platform/ids';
import { usualHours } from '../../records/settings/index';
import { learnChances } from './chances';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
});
afterAll(() => installation.close());

const db = () => installation.services.database;
const learn = async () => {
  const { calendars, settings } = installation.services;
  const { organisation } = await settings.read(db());
  const calendar = calendars.of({ country: 'GB', zone: 'Europe/London', hours: usualHours }, organisation);
  await db().transaction((tx) => learnChances(tx, installation.clock.now(), calendar));
};
const known = async (name: LearnedName) =>
  (await admin.ok('learnedValues')).values.find((value) => value.name === name)!;
/** What the fit makes of these cases, as it is shown. */
const fitOf = (name: 'reply' | 'lead' | 'task' | 'waking' | 'stirring', cases: readonly Cases[]) => {
  const fit = fitFalling(cases, {
    chance: usualOf(`p0.${name}`, 'GBP'),
    halfDays: usualOf(`halfDays.${name}`, 'GBP'),
  });
  return { chance: Number(fit.chance.toFixed(3)), halfDays: Number(fit.halfDays.toFixed(2)) };
};

interface Entry {
  readonly contactId: string;
  readonly at: string;
  readonly direction?: 'in' | 'out';
  readonly counts?: 'conversation' | 'attempt';
}
const write = (entries: readonly Entry[]) =>
  db().change(
    `INSERT INTO journal_entry (id, at, kind, direction, counts, body, is_rich, user_id, contact_id, created_at, version) VALUES :rows`,
    {
      rows: entries.map(({ contactId, at, direction = 'out', counts = 'attempt' }) => [
        ...[bytesOf(newId()), at, 'email', direction, counts, '', 0],
        ...[bytesOf(rep.id), bytesOf(contactId), at, 1],
      ]),
    },
  );
const people = (count: number) => Promise.all(Array.from({ length: count }, () => aContact(rep)));

test('in a new organisation nothing is learned, and the usual values count', async () => {
  await learn();
  for (const { learned, cases, name, usual } of (await admin.ok('learnedValues')).values)
    expect([name, learned, cases, usual]).toEqual([name, null, 0, usualOf(name, 'GBP')]);
});

test('tasks: a conversation within thirty days counts, a bank holiday is no day of waiting, the young are left out', async () => {
  const someone = await people(4);
  const ids = someone.map(({ id }) => id as string);
  const [soon, late, never, young] = ids as [string, string, string, string];
  // Due on Friday, done on Tuesday: Monday 4 May 2026 was a holiday.
  const done = (contactId: string, count: number, at = '2026-05-05 10:00:00', dueOn = '2026-05-01') =>
    db().change(
      `INSERT INTO task (id, channel, purpose, due_on, minutes, state, owner_id, contact_id, is_automatic, times_moved, finished_at,
              created_at, version) VALUES :rows`,
      {
        rows: Array.from({ length: count }, () => [
          ...[bytesOf(newId()), 'call', 'ask', dueOn, 5, 'done', bytesOf(rep.id), bytesOf(contactId)],
          ...[0, 0, at, at, 1],
        ]),
      },
    );
  await done(soon, 10);
  await done(late, 14);
  await done(never, 16);
  await done(young, 50, '2026-11-20 10:00:00', '2026-11-20');
  await write([
    { contactId: soon, at: '2026-06-03 09:00:00', direction: 'in', counts: 'conversation' },
    { contactId: late, at: '2026-06-05 09:00:00', direction: 'in', counts: 'conversation' },
  ]);
  await learn();
  const expected = fitOf('task', [{ waited: 1, tried: 40, brought: 10 }]);
  expect(await known('p0.task')).toMatchObject({ learned: expected.chance, cases: 40 });
  expect(await known('halfDays.task')).toMatchObject({ learned: expected.halfDays, cases: 40 });
});

test('somebody who wrote waits from their first word to ours', async () => {
  const [one] = await people(1);
  const at = (day: string) => ({ contactId: one!.id, at: `2026-03-${day} 10:00:00` });
  await write([
    { ...at('02'), direction: 'in', counts: 'conversation' },
    { ...at('03'), direction: 'in', counts: 'conversation' },
    at('05'),
    at('06'),
    { ...at('09'), direction: 'in', counts: 'conversation' },
    { ...at('09'), at: '2026-03-09 11:00:00' },
  ]);
  await learn();
  const before = await known('p0.reply');
  expect([before.learned, before.cases]).toEqual([null, 2]);
  // The first was followed by a conversation, the second was not; thirty more of the first kind make it known.
  for (const each of await people(30))
    await write([
      { contactId: each.id, at: '2026-03-02 10:00:00', direction: 'in', counts: 'conversation' },
      { contactId: each.id, at: '2026-03-05 10:00:00' },
      { contactId: each.id, at: '2026-03-09 10:00:00', direction: 'out', counts: 'conversation' },
    ]);
  await learn();
  const expected = fitOf('reply', [
    { waited: 3, tried: 31, brought: 31 },
    { waited: 0, tried: 1, brought: 0 },
  ]);
  expect(await known('p0.reply')).toMatchObject({ learned: expected.chance, cases: 32 });
});

test('customers that went quiet and were lost within the year, and what a stage keeps of deals that were left', async () => {
  const [kept, lost] = await people(2);
  await write([kept!, lost!].map(({ id }) => ({ contactId: id, at: '2025-06-02 10:00:00' })));
  const standing = (group: string) =>
    `(SELECT id FROM standing WHERE standing_group = '${group}' ORDER BY id LIMIT 1)`;
  const become = (id: string, group: string) =>
    db().change(
      `UPDATE contact SET standing_id = ${standing(group)}, standing_set_at = '2025-12-01 10:00:00', check_in_days = 30
        WHERE id = :id`,
      { id: bytesOf(id) },
    );
  await become(kept!.id, 'customer');
  await become(lost!.id, 'former');
  await learn();
  expect(await known('silenceLossChance')).toMatchObject({ learned: null, cases: 2 });

  const [stage] = await stagesOf(rep);
  const closed = async (status: 'won' | 'lost', enteredAt: string) => {
    const deal = await aDeal(rep, kept!.id);
    await db().change(`UPDATE deal SET status = :status, closed_on = '2026-10-01' WHERE id = :id`, {
      id: bytesOf(deal.id),
      status,
    });
    await db().change(
      `UPDATE stage_stay SET entered_at = :enteredAt, left_at = '2026-10-01 10:00:00' WHERE deal_id = :id`,
      { id: bytesOf(deal.id), enteredAt },
    );
  };
  const wayPast = stage!.patienceDays;
  const day = (days: number) =>
    `${new Date(Date.parse('2026-10-01T10:00:00Z') - days * 86_400_000).toISOString().slice(0, 10)} 10:00:00`;
  await closed('won', day(0));
  for (let n = 0; n < 30; n += 1) await closed(n % 3 === 0 ? 'won' : 'lost', day(2 * wayPast));
  await learn();
  const usual = stage!.winProbability;
  const floor = fitFloor(
    [{ fresh: (1 + 30 * usual) / 31, fallen: 1 - 2 ** -1, tried: 30, brought: 10 }],
    0.2,
  );
  expect(await known('dealFloor')).toMatchObject({ learned: Number(floor.toFixed(3)), cases: 30 });
});

test('an agreement that was talked of and ran out, and a stirring that was followed up', async () => {
  const [one, two] = await people(2);
  const agreement = (contactId: string, renews: number) => [
    ...[
      bytesOf(newId()),
      'service',
      bytesOf(contactId),
      bytesOf(rep.id),
      '2025-09-01',
      12,
      10_000,
      'GBP',
      10_000,
    ],
    ...[30, 30, renews, '2026-09-01', '2026-07-31', '2026-07-01', '2025-09-01 10:00:00', 1],
  ];
  await db().change(
    `INSERT INTO agreement (id, name, contact_id, owner_id, starts_on, term_months, value_minor, currency, home_minor, notice_days,
            lead_days, renews_itself, ends_on, notice_deadline_on, lead_on, created_at, version) VALUES :rows`,
    { rows: [agreement(one!.id, 1), agreement(two!.id, 0)] },
  );
  await write(
    [one!, two!].map(({ id }) => ({
      contactId: id,
      at: '2026-07-21 10:00:00',
      counts: 'conversation' as const,
    })),
  );
  await db().change(
    `INSERT INTO stirring (id, dedupe_key, at, kind, words, user_id, contact_id, times, handled_at, handled_by, version)
     VALUES (:id, 'one', '2026-07-17 10:00:00', 'clicked', 'followed a link', :user, :contact, 1, '2026-07-20 10:00:00', :user, 1)`,
    { id: bytesOf(newId()), user: bytesOf(rep.id), contact: bytesOf(one!.id) },
  );
  await learn();
  expect(await known('renewalLastDay')).toMatchObject({ learned: null, cases: 2 });
  expect(await known('p0.stirring')).toMatchObject({ learned: null, cases: 1 });
});

test('other settings show another order of today, and change nothing', async () => {
  const { above, below } = await admin.ok('round', { query: {} });
  expect(above.length + below.length).toBe(0);
  const [one, two] = [await aContact(admin), await aContact(admin)];
  const task = { channel: 'call', purpose: 'promised', dueOn: '2026-11-24', minutes: 5 };
  await admin.ok('createTask', { body: { ...task, contactId: one.id } });
  await aDeal(admin, two.id, { amountMinor: 30_000, next: { kind: 'none', reason: 'they will call' } });
  const body = await admin.ok('roundSettings');
  const same = await admin.ok('previewRound', { query: {}, body });
  expect([same.moved, same.rows.map(({ was, becomes }) => was === becomes)]).toEqual([0, [true, true]]);
  const [first, second] = same.rows;
  const turned =
    first!.purpose === 'promised'
      ? { ...body, promiseMinor: 0, leadMinor: 0, p0: { ...body.p0, task: 0.001 } }
      : { ...body, promiseMinor: 90_000_000 };
  const other = await admin.ok('previewRound', { query: { owner: admin.id }, body: turned });
  expect(other.rows.map(({ key, was, becomes }) => [key, was, becomes])).toEqual([
    [second!.key, 2, 1],
    [first!.key, 1, 2],
  ]);
  expect(other.moved).toBe(2);
  expect(await admin.ok('roundSettings')).toEqual(body);
  expect((await rep.call('previewRound', { query: {}, body })).status).toBe(403);
  const wrong = { ...body, p0: { ...body.p0, task: 7 } };
  expect((await admin.call('previewRound', { query: {}, body: wrong })).body.fields[0].path).toBe('p0.task');
});
