import type { Contact, Round } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aTask } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterEach(() => installation.close());

const read = (query: object = {}, who = rep): Promise<Round> => who.ok('round', { query });
const keys = ({ above, below }: Round) => [...above, ...below].map(({ key }) => key);
const placed = ({ above, below }: Round) =>
  [...above, ...below].filter((row) => row.placed).map(({ key }) => key);
const put = (key: string, before: string | null, isToday = true, changeId?: string) =>
  rep.ok('placeRow', { body: { place: 'by-hand', key, before, isToday }, ...(changeId && { changeId }) });

/** Four tasks of different worth, by their keys in the order of the Round. */
async function four(): Promise<string[]> {
  for (const amountMinor of [900_000, 700_000, 500_000, 300_000]) {
    const contact = await aContact(rep);
    const next = { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask', minutes: 6 };
    await aDeal(rep, contact.id, { amountMinor, next });
  }
  const round = await read();
  expect(round.above).toHaveLength(4);
  return keys(round);
}

describe('a row put elsewhere by hand', () => {
  test('stays there for the day, is marked, and new rows come in around it', async () => {
    const [a, b, c, d] = await four();
    await put(d!, b!);
    const round = await read();
    expect([keys(round), placed(round), round.placed]).toEqual([[a, d, b, c], [d], 1]);
    const contact = await aContact(rep);
    const next = { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask', minutes: 6 };
    await aDeal(rep, contact.id, { amountMinor: 4_000_000, next });
    const later = await read();
    expect(keys(later).slice(1)).toEqual([a, d, b, c]);
    installation.clock.set('2026-11-25T09:10:00.000Z');
    expect(placed(await read())).toEqual([]);
  });

  test('several keep their order, and one undo after the other takes it back', async () => {
    const [a, b, c, d] = await four();
    const [first, second] = [v7(), v7()];
    await put(d!, a!, true, first);
    await put(c!, d!, true, second);
    expect(keys(await read())).toEqual([c, d, a, b]);
    await rep.ok('undoChange', { params: { id: second } });
    expect(keys(await read())).toEqual([d, a, b, c]);
    await rep.ok('undoChange', { params: { id: first } });
    expect(keys(await read())).toEqual([a, b, c, d]);
  });

  test('one goes back to its computed place, or all of them; pinned ones stay', async () => {
    const [a, b, c, d] = await four();
    await rep.ok('placeRow', { body: { place: 'top', key: b! } });
    await put(d!, a!);
    await put(c!, d!);
    expect(keys(await read())).toEqual([b, c, d, a]);
    await rep.ok('placeRow', { body: { place: 'computed', key: c! } });
    expect(keys(await read())).toEqual([b, d, a, c]);
    await rep.ok('placeRow', { body: { place: 'all-computed' } });
    expect(await read()).toMatchObject({
      placed: 0,
      above: [{ key: b, pinned: true }, { key: a }, {}, { key: d }],
    });
  });

  test('put below the line it is not of today, and gets a day', async () => {
    const [a, b, c, d] = await four();
    await put(a!, null, false);
    const round = await read();
    expect(round.above.map(({ key }) => key)).toEqual([b, c, d]);
    expect(round.below).toMatchObject([{ key: a, placed: true, moveTo: '2026-11-25' }]);
  });

  test('a pin that is put elsewhere is no pin any more', async () => {
    const [a, b, c, d] = await four();
    await rep.ok('placeRow', { body: { place: 'top', key: d! } });
    await put(d!, c!);
    expect((await read()).above).toMatchObject([
      { key: a },
      { key: b },
      { key: d, pinned: false },
      { key: c },
    ]);
  });

  test('is refused for what is promised for a time, and for a row that has gone', async () => {
    const [a] = await four();
    const task = await aTask(rep, (await aContact(rep)).id, { promisedMinute: 15 * 60 });
    const ask = (key: string, before: string | null) =>
      rep.call('placeRow', { body: { place: 'by-hand', key, before, isToday: true } });
    expect((await ask(`task:${task.id}`, a!)).body).toMatchObject({
      code: 'at-its-time',
      detail: 'It is promised for a time, and is done then. Change its time instead.',
    });
    expect((await ask(a!, 'task:gone')).body.code).toBe('round-changed');
    expect((await ask('task:gone', null)).body.code).toBe('round-changed');
    expect((await read()).placed).toBe(0);
  });

  test('is of one’s own Round alone', async () => {
    const [a, b, c, d] = await four();
    const colleague = await installation.as('rep', 'Dara Osei');
    const answer = await colleague.call('placeRow', {
      body: { place: 'by-hand', key: d!, before: a!, isToday: true },
    });
    expect(answer.body.code).toBe('round-changed');
    expect(keys(await read())).toEqual([a, b, c, d]);
  });
});

describe('where the rows come from, and what comes next', () => {
  const plan = (contact: Contact, part: object = {}) => aTask(rep, contact.id, part);

  test('a filter by source says what it hides, and each source how many it has', async () => {
    await aContact(rep);
    await plan(await aContact(rep));
    installation.clock.set('2026-12-04T09:10:00.000Z');
    expect((await read()).counts.kinds).toEqual({ task: 1, quiet: 1 });
    expect(await read({ kind: 'task' })).toMatchObject({ above: [{ kind: 'task' }], hidden: 1 });
    expect(await read({ kind: 'quiet' })).toMatchObject({ above: [{ kind: 'quiet' }], hidden: 1 });
  });

  test('tomorrow lists the next working day’s round and nothing of today’s', async () => {
    const [now, next] = [await aContact(rep), await aContact(rep)];
    await plan(now);
    const task = await plan(next, { dueOn: '2026-11-25', minutes: 12 });
    const tomorrow = await read({ due: 'tomorrow' });
    expect(tomorrow).toMatchObject({ on: '2026-11-25', hidden: 0, counts: { all: 1, late: 0 } });
    expect(tomorrow.above).toMatchObject([{ taskId: task.id, due: 'today', minutes: 12 }]);
    // Before a weekend the next day is Monday.
    installation.clock.set('2026-12-04T09:10:00.000Z');
    const monday = await read({ due: 'tomorrow' });
    expect(monday.on).toBe('2026-12-07');
    expect(keys(monday)).not.toContain(`task:${task.id}`);
  });

  test('the days to move to say what is planned on them and what that leaves', async () => {
    await plan(await aContact(rep), { dueOn: '2026-11-26', minutes: 45 });
    const { days } = await read();
    expect(days.slice(0, 4).map(({ on, plannedMinutes }) => [on, plannedMinutes])).toEqual([
      ['2026-11-24', 0],
      ['2026-11-25', 0],
      ['2026-11-26', 45],
      ['2026-11-27', 0],
    ]);
    expect(days[1]!.freeMinutes - days[2]!.freeMinutes).toBe(45);
    expect(days).toHaveLength(21);
  });
});
