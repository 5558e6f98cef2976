import { install, type Caller, type Installation } from '../../../testing/installation';
import { v7 } from 'uuid';
import { aContact, aTask } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let other: Caller;
let manager: Caller;
beforeEach(async () => {
  installation = await install();
  manager = await installation.as('manager', 'Corin Vale');
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Dara Osei');
});
afterEach(() => installation.close());

const team = async () => (await manager.ok('teamRounds')).people;
const member = async (who: Caller) => (await team()).find(({ id }) => id === who.id)!;
const later = (at: string) => installation.clock.set(at);

describe('the day of a team', () => {
  test('says of each what is to do, what does not fit, what is late and which promises are at risk', async () => {
    for (let n = 0; n < 3; n += 1) await aTask(rep, (await aContact(rep)).id, { minutes: 200 });
    await aTask(rep, (await aContact(rep)).id, { promisedMinute: 9 * 60 + 30, minutes: 10 });
    const before = await member(rep);
    expect(before).toMatchObject({ rows: 4, minutes: 610, late: 0, atRisk: 0, away: null });
    expect(before.overMinutes).toBe(610 - before.freeMinutes);
    later('2026-11-24T09:45:00.000Z');
    expect((await member(rep)).atRisk).toBe(1);
    expect((await team()).map(({ name }) => name)).toEqual(['Imogen Thorne', 'Dara Osei']);
    later('2026-11-25T09:10:00.000Z');
    expect((await member(rep)).late).toBe(4);
  });

  test('is a manager’s, of those they lead', async () => {
    expect((await rep.call('teamRounds')).status).toBe(403);
    const lead = await installation.as('manager', 'Another Lead');
    await installation.services.database.change('UPDATE app_user SET manager_id = :lead WHERE id = :rep', {
      lead: Buffer.from(lead.id.replaceAll('-', ''), 'hex'),
      rep: Buffer.from(rep.id.replaceAll('-', ''), 'hex'),
    });
    expect((await team()).map(({ name }) => name)).not.toContain('Imogen Thorne');
  });

  test('a manager steps into a Round and moves its rows; what becomes a task is the rep’s', async () => {
    const contact = await aContact(rep);
    await aContact(rep);
    const task = await aTask(rep, contact.id);
    later('2026-12-04T09:10:00.000Z');
    const round = await manager.ok('round', { query: { owner: rep.id } });
    expect(round.ownerId).toBe(rep.id);
    const rows = [...round.above, ...round.below].map((row) => ({
      ...{ taskId: row.taskId, taskVersion: row.taskVersion, contactId: row.contactId, dealId: row.dealId },
      ...{ channel: row.channel, purpose: row.purpose, minutes: row.minutes, to: '2026-12-08' },
    }));
    expect(rows).toHaveLength(2);
    expect(await manager.ok('moveRows', { body: { rows } })).toEqual({ moved: 2, refused: [] });
    const { rows: tasks } = await rep.ok('taskTable', { query: {} });
    expect(tasks.map(({ dueOn, ownerId }) => [dueOn, ownerId])).toEqual([
      ['2026-12-08', rep.id],
      ['2026-12-08', rep.id],
    ]);
    expect(await other.ok('moveRows', { body: { rows: [{ ...rows[0], taskId: task.id }] } })).toMatchObject({
      moved: 0,
      refused: [{ why: 'it belongs to somebody else' }],
    });
  });

  test('tasks one gave to others are a list of their own', async () => {
    const contact = await aContact(rep);
    await aTask(manager, contact.id, { ownerId: rep.id, purpose: 'given' });
    await aTask(manager, (await aContact(manager)).id, { purpose: 'own' });
    const { rows } = await manager.ok('taskTable', { query: { owner: 'given' } });
    expect(rows.map(({ purpose, ownerId }) => [purpose, ownerId])).toEqual([['given', rep.id]]);
    expect((await rep.ok('taskTable', { query: { owner: 'given' } })).rows).toEqual([]);
  });
});

describe('giving tasks to somebody', () => {
  test('shows first what it does to the days of both', async () => {
    const tasks = [
      await aTask(rep, (await aContact(rep)).id, { minutes: 40 }),
      await aTask(rep, (await aContact(rep)).id, { minutes: 30, dueOn: '2026-11-26' }),
    ];
    const { people } = await manager.ok('previewGive', {
      body: { ids: tasks.map(({ id }) => id), ownerId: other.id },
    });
    const days = (who: Caller) =>
      people
        .find(({ id }) => id === who.id)!
        .days.map(({ on, plannedMinutes, change }) => [on, plannedMinutes, change]);
    expect(days(rep)).toEqual([
      ['2026-11-24', 40, -40],
      ['2026-11-26', 30, -30],
    ]);
    expect(days(other)).toEqual([
      ['2026-11-24', 0, 40],
      ['2026-11-26', 0, 30],
    ]);
    // What is theirs already changes nothing.
    const same = await manager.ok('previewGive', { body: { ids: [tasks[0]!.id], ownerId: rep.id } });
    expect(same.people).toEqual([]);
  });
});

describe('somebody is away', () => {
  const away = (from: string, to: string, standInId: string | null = other.id, who = rep) =>
    who.ok('planAbsence', { body: { userId: rep.id, from, to, standInId } });
  const freeOn = async (day: string) =>
    (await rep.ok('round')).days.find(({ on }) => on === day)?.freeMinutes ?? null;

  test('nothing is planned on these days, and the Round has none of them', async () => {
    expect(await freeOn('2026-11-26')).toBeGreaterThan(0);
    await away('2026-11-26', '2026-11-27');
    expect(await freeOn('2026-11-26')).toBeNull();
    expect(await freeOn('2026-11-30')).toBeGreaterThan(0);
    const { holidays } = await rep.ok('session');
    expect(holidays['2026-11-27']).toBe('away');
  });

  test('whoever stands in works their Round while they are away, and not before or after', async () => {
    const contact = await aContact(rep);
    const task = await aTask(rep, contact.id);
    const drop = () => other.call('dropTask', { params: { id: task.id }, body: { reason: 'not now' } });
    await away('2026-11-25', '2026-11-26');
    expect((await drop()).status).toBe(403);
    expect((await other.ok('session')).standsInFor).toEqual([]);
    later('2026-11-25T09:10:00.000Z');
    expect((await other.ok('session')).standsInFor).toEqual([
      { id: rep.id, name: 'Imogen Thorne', until: '2026-11-26' },
    ]);
    expect((await other.ok('round', { query: { owner: rep.id } })).counts.all).toBe(1);
    expect((await drop()).status).toBe(200);
    later('2026-11-27T09:10:00.000Z');
    expect((await other.call('round', { query: { owner: rep.id } })).status).toBe(403);
    expect((await rep.ok('round')).ownerId).toBe(rep.id);
  });

  test('a manager plans it for somebody they lead, nobody else; one undo takes it back', async () => {
    const change = v7();
    await manager.ok('planAbsence', {
      body: { userId: rep.id, from: '2026-11-26', to: '2026-11-26', standInId: null },
      changeId: change,
    });
    const { absences } = await other.ok('listAbsences');
    expect(absences).toMatchObject([{ userId: rep.id, from: '2026-11-26', standInName: null }]);
    expect((await other.call('removeAbsence', { params: { id: absences[0]!.id } })).status).toBe(403);
    const wrong = await other.call('planAbsence', {
      body: { userId: rep.id, from: '2026-12-01', to: '2026-12-01', standInId: null },
    });
    expect(wrong.status).toBe(403);
    await manager.ok('undoChange', { params: { id: change } });
    expect((await rep.ok('listAbsences')).absences).toEqual([]);
  });

  test('twice at once, backwards, or with oneself as stand-in is refused at its field', async () => {
    await away('2026-11-26', '2026-11-27');
    const refused = async (body: object) =>
      (await rep.call('planAbsence', { body: { userId: rep.id, ...body } })).body.fields as unknown[];
    expect(await refused({ from: '2026-11-27', to: '2026-11-30' })).toMatchObject([{ path: 'from' }]);
    expect(await refused({ from: '2026-12-03', to: '2026-12-02' })).toMatchObject([{ path: 'to' }]);
    expect(await refused({ from: '2026-12-03', to: '2026-12-03', standInId: rep.id })).toMatchObject([
      { path: 'standInId' },
    ]);
    await rep.ok('removeAbsence', { params: { id: (await rep.ok('listAbsences')).absences[0]!.id } });
    expect(await freeOn('2026-11-26')).toBeGreaterThan(0);
  });

  test('the team’s day says who is away', async () => {
    await away('2026-11-24', '2026-11-26');
    expect(await member(rep)).toMatchObject({
      away: { until: '2026-11-26', standInName: 'Dara Osei' },
      freeMinutes: 0,
    });
  });
});
