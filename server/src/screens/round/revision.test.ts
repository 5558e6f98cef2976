import type { Contact, Round } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, aTask, changeOf, standingNamed } from '../../../testing/people';
import { computePriced, showRound } from './read-round';
import { readRevision } from './revision';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  colleague = await installation.as('rep', 'Rhys Calder');
  await rep.ok('round');
  await colleague.ok('round');
});
afterAll(() => installation.close());

const plan = (who: Caller, contact: Contact, part: object = {}, changeId?: string) =>
  aTask(who, contact.id, part, changeId);
const revisionOf = ({ id }: Caller) => readRevision(installation.services.database, id);
/** Whose Round an act moves. */
async function moved(act: () => Promise<unknown>): Promise<string[]> {
  const before = [await revisionOf(rep), await revisionOf(colleague)];
  await act();
  const after = [await revisionOf(rep), await revisionOf(colleague)];
  return ['rep', 'colleague'].filter((_, at) => before[at] !== after[at]);
}
/** As it would be computed now, beside what is answered. */
async function bothOf(who: Caller): Promise<[Round, Round]> {
  const { services } = installation;
  const fresh = await showRound(services.database, await computePriced(services, who.id), { limit: 150 });
  return [await who.ok('round'), fresh];
}

describe('whose Round a change moves', () => {
  test('of what is one’s own, one’s own alone', async () => {
    const contact = await aContact(rep);
    expect(await moved(() => plan(rep, contact))).toEqual(['rep']);
    expect(await moved(() => aLog(rep, contact.id))).toEqual(['rep']);
    expect(await moved(() => aDeal(rep, contact.id))).toEqual(['rep']);
  });

  test('of a person whom a colleague has a step with, also the colleague’s', async () => {
    const contact = await aContact(rep);
    const abroad = () =>
      rep.ok('changeContact', { params: { id: contact.id }, body: changeOf(contact, { country: 'NL' }) });
    await plan(rep, contact, { ownerId: colleague.id, dueOn: '2026-11-24' });
    expect(await moved(abroad)).toEqual(['rep', 'colleague']);
  });

  test('of one given away, both', async () => {
    const contact = await aContact(rep);
    const task = await plan(rep, contact);
    const give = () =>
      rep.ok('changeTask', {
        params: { id: task.id },
        body: {
          version: task.version,
          channel: task.channel,
          purpose: task.purpose,
          dueOn: task.dueOn,
          promisedAt: null,
          minutes: task.minutes,
          ownerId: colleague.id,
          repeats: null,
          remindMinutes: null,
        },
      });
    expect(await moved(give)).toEqual(['rep', 'colleague']);
  });

  test('of a deal that a colleague has a step for, both', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id);
    await plan(rep, contact, { ownerId: colleague.id, dealId: deal.id });
    const stages = (await rep.ok('listPipelines')).pipelines[0]!.stages;
    const move = () =>
      rep.ok('moveDeal', {
        params: { id: deal.id },
        body: { version: deal.version, stageId: stages[2]!.id, expectedCloseOn: deal.expectedCloseOn },
      });
    expect(await moved(move)).toEqual(['rep', 'colleague']);
  });

  test('of an undo, as of what it undoes', async () => {
    const contact = await aContact(rep);
    const changeId = v7();
    await plan(rep, contact, {}, changeId);
    expect(await moved(() => rep.ok('undoChange', { params: { id: changeId } }))).toEqual(['rep']);
  });

  test('of a setting, everybody’s', async () => {
    const admin = await installation.as('admin');
    const body = { ...(await admin.ok('roundSettings')), reserveMinutes: 40 };
    const save = () => admin.ok('changeRoundSettings', { body });
    expect(await moved(save)).toEqual(['rep', 'colleague']);
  });

  test('of a colleague’s person, not mine', async () => {
    const standing = await revisionOf(rep);
    await aContact(colleague);
    expect(await revisionOf(rep)).toBe(standing);
  });
});

describe('a Round that is kept', () => {
  test('is after every act what it would be if it were computed', async () => {
    const contact = await aContact(rep, { phone: null });
    const customer = await standingNamed(rep, 'Customer');
    const acts: (() => Promise<unknown>)[] = [
      () => plan(rep, contact),
      () => aLog(rep, contact.id, { outcomeId: 'email-came-in' }),
      () => aDeal(rep, contact.id),
      () => rep.ok('placeRow', { body: { key: `reply:${contact.id}`, place: 'top' } }),
      () => plan(rep, contact, { dueOn: '2026-11-30', purpose: 'later' }),
      async () =>
        rep.ok('changeContact', {
          params: { id: contact.id },
          body: changeOf(await rep.ok('getContact', { params: { id: contact.id } }), {
            standingId: customer.id,
            familyName: 'Renamed',
            phone: '+441632960999',
          }),
        }),
      async () => aLog(await installation.as('manager'), contact.id),
      () => installation.work(),
    ];
    for (const act of acts) {
      await act();
      const [kept, fresh] = await bothOf(rep);
      expect(kept).toEqual(fresh);
    }
  });

  test('is another once the clock has gone on', async () => {
    const before = await rep.ok('round');
    installation.clock.set('2026-11-24T10:40:00.000Z');
    const after = await rep.ok('round');
    expect(after.header.freeMinutes).toBeLessThan(before.header.freeMinutes);
  });

  test('is not sent again to whoever has it, and is once it has changed', async () => {
    const first = await rep.call('round');
    const known = String(first.headers['etag']);
    const again = await rep.call('round', { known });
    expect([again.status, again.text]).toEqual([304, '']);
    await plan(rep, await aContact(rep));
    const changed = await rep.call('round', { known });
    expect(changed.status).toBe(200);
    expect(changed.headers['etag']).not.toBe(known);
  });

  test('is nobody else’s: who may not see a day is refused, whatever they name', async () => {
    const known = String((await colleague.call('round')).headers['etag']);
    expect((await rep.call('round', { query: { owner: colleague.id }, known })).status).toBe(403);
  });
});
