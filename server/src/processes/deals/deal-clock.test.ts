import { randomUUID } from 'node:crypto';
import type { Contact, Deal } from '@kettle/contract';
import request from 'supertest';
import { signatureOf } from '../telephone/index';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, journalOf, shapeStages } from '../../../testing/people';
import { bytesOf } from '../../platform/ids';
import { storeArrival } from '../mail/index';

/** When a deal is stalled: patience counts from the last real change, whatever it was and whoever made it. */

const secret = 'shared with the gateways';
let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install({ gatewaySecret: secret });
  rep = await installation.as('rep');
  admin = await installation.as('admin');
  await shapeStages(admin, { Inquiry: { patienceDays: 10 } });
});
beforeEach(() => installation.clock.set('2026-11-02T09:10:00.000Z'));
afterAll(() => installation.close());

const on = (day: string) => installation.clock.set(`${day}T09:10:00.000Z`);
const read = (deal: Deal) => rep.ok('getDeal', { params: { id: deal.id } });
/** A deal of 2 November: with a patience of ten days it is stalled from 13 November on, twelve days past it on the 24th. */
async function aQuietDeal(): Promise<{ deal: Deal; contact: Contact }> {
  const contact = await aContact(rep, { phone: `+4416329602${String(10 + (number += 1))}` });
  const deal = await aDeal(rep, contact.id);
  on('2026-11-24');
  return { deal, contact };
}
let number = 0;
const change = (deal: Deal, part: object) => {
  const { version, name, stageId, amountMinor, expectedCloseOn } = deal;
  return rep.ok('changeDeal', {
    params: { id: deal.id },
    body: { version, name, stageId, amountMinor, expectedCloseOn, ...part },
  });
};
const write = (from: string, subject: string) =>
  storeArrival(installation.services, {
    content: Buffer.from(
      [
        `Authentication-Results: mx.kettle.test; dmarc=pass`,
        `From: ${from}`,
        'To: rep@hollinbeck.example',
        `Subject: ${subject}`,
        '',
        'Please call.',
      ].join('\r\n'),
    ),
    envelopeFrom: from,
  });

test('it is stalled by the days past its stage’s patience, the day itself not counted', async () => {
  const { deal } = await aQuietDeal();
  expect((await read(deal)).stalledDays).toBe(12);
  on('2026-11-12');
  expect((await read(deal)).stalledDays).toBe(0);
  on('2026-11-13');
  expect((await read(deal)).stalledDays).toBe(1);
  const { rows } = await rep.ok('listDeals', { query: { show: 'stalled' } });
  expect(rows.map(({ id }) => id)).toEqual([deal.id]);
});

test.each([
  ['its value', { amountMinor: 1 }],
  ['its expected close', { expectedCloseOn: '2027-02-01' }],
])('%s starts the clock again', async (_, part) => {
  const { deal } = await aQuietDeal();
  expect((await change(deal, part)).stalledDays).toBe(-10);
});

test.each([
  ['a name put right', { name: 'Second softener, twin' }],
  ['its priority', { priority: 'high' }],
])('%s does not', async (_, part) => {
  const { deal } = await aQuietDeal();
  expect((await change(deal, part)).stalledDays).toBe(12);
});

test('a conversation logged on it does, and taking the log back takes that back', async () => {
  const { deal, contact } = await aQuietDeal();
  const logged = await aLog(rep, contact.id, { dealId: deal.id, outcomeId: 'call-spoke' });
  expect(await read(deal)).toMatchObject({ stalledDays: -10, tether: { lastTouchKind: 'call' } });
  await rep.ok('undoLog', { params: { id: logged.entryId } });
  expect(await read(deal)).toMatchObject({ stalledDays: 12, tether: { lastTouchAt: null } });
});

test('an entry that is removed later no longer counts, one that is brought back does', async () => {
  const { deal, contact } = await aQuietDeal();
  await aLog(rep, contact.id, { dealId: deal.id, outcomeId: 'call-spoke' });
  const entry = (await journalOf(rep, { dealId: deal.id })).find(({ kind }) => kind === 'call')!;
  const params = { id: entry.id };
  await rep.ok('removeEntry', { params, body: { version: entry.version } });
  expect((await read(deal)).stalledDays).toBe(12);
  await rep.ok('restoreEntry', { params });
  expect((await read(deal)).stalledDays).toBe(-10);
});

test('a mail that comes in belongs to the deal of whoever wrote it', async () => {
  const { deal, contact } = await aQuietDeal();
  await write(contact.email!, 'When do you come?');
  await installation.work();
  expect(await read(deal)).toMatchObject({ stalledDays: -10, tether: { lastTouchKind: 'email' } });
  const entries = await journalOf(rep, { dealId: deal.id });
  expect(entries.find(({ kind }) => kind === 'email')!.body).toContain('When do you come?');
});

test('of several open deals it is proposed, the one that is meant first; with none open, it is the person’s alone', async () => {
  const { deal: later, contact } = await aQuietDeal();
  const sooner = await aDeal(rep, contact.id, { name: 'Filters', expectedCloseOn: '2026-12-01' });
  await write(contact.email!, 'One question');
  await installation.work();
  expect((await read(later)).tether.lastTouchAt).toBeNull();
  expect((await read(sooner)).tether.lastTouchAt).toBeNull();
  const [mail] = (await rep.ok('listMail', { query: { contactId: contact.id } })).rows;
  const { deals } = await rep.ok('getMail', { params: { id: mail!.id } });
  expect(deals.map(({ id }) => id)).toEqual([sooner.id, later.id]);
  await rep.ok('putMailWithDeal', {
    params: { id: mail!.id },
    body: { version: mail!.version, dealId: sooner.id },
  });
  expect((await read(sooner)).tether.lastTouchKind).toBe('email');
  const alone = await aContact(rep);
  await write(alone.email!, 'Anybody there?');
  await installation.work();
  const [entry] = (await journalOf(rep, { contactId: alone.id })).filter(({ kind }) => kind === 'email');
  expect(entry!.dealId).toBeNull();
});

test('a text that comes in counts as well', async () => {
  const { deal, contact } = await aQuietDeal();
  const body = JSON.stringify({
    id: randomUUID(),
    kind: 'text-in',
    from: contact.phone,
    body: 'Thursday is fine',
  });
  const taken = await request(installation.app)
    .post('/out/hooks')
    .set('x-signature', signatureOf(body, secret))
    .set('Content-Type', 'application/json')
    .send(body);
  expect(taken.status).toBeLessThan(300);
  expect(await read(deal)).toMatchObject({ stalledDays: -10, tether: { lastTouchKind: 'text' } });
});

test('what another deal of the same person hears leaves this one alone', async () => {
  const { deal, contact } = await aQuietDeal();
  const other = await aDeal(rep, contact.id, { name: 'Filters' });
  await aLog(rep, contact.id, { dealId: other.id, outcomeId: 'call-spoke' });
  expect((await read(deal)).stalledDays).toBe(12);
  expect((await read(other)).tether.lastTouchKind).toBe('call');
});

test('a closed deal is not stalled by what its people say later', async () => {
  const { deal, contact } = await aQuietDeal();
  await aLog(rep, contact.id, { dealId: deal.id, outcomeId: 'call-spoke' });
  const lost = await rep.ok('closeDeal', {
    params: { id: deal.id },
    body: { as: 'lost', version: deal.version, on: '2026-11-24', reason: 'price' },
  });
  on('2026-12-04');
  await aLog(rep, contact.id, { dealId: deal.id, outcomeId: 'call-spoke' });
  expect((await read(lost)).tether.lastTouchAt).toBe('2026-11-24T09:10:00.000Z');
});

test('it stalls by its owner’s day, whoever looks, in list, dossier, Round and the check of a pipeline alike', async () => {
  const far = await installation.as('rep', 'Moana Reid');
  await installation.services.database.change('UPDATE app_user SET zone = :zone WHERE id = :id', {
    zone: 'Pacific/Auckland',
    id: bytesOf(far.id),
  });
  // Already the third where the owner is.
  installation.clock.set('2026-11-02T20:00:00.000Z');
  const deal = await aDeal(far, (await aContact(far)).id, {
    next: { kind: 'none', reason: 'they will call' },
  });
  const seen = async () => {
    const { rows } = await admin.ok('listDeals', { query: { show: 'stalled', owner: 'all' } });
    const { stalledDays } = await admin.ok('getDeal', { params: { id: deal.id } });
    const round = await far.ok('round', { query: {} });
    const reasons = [...round.above, ...round.below].find(({ dealId }) => dealId === deal.id)!.reasons;
    const [pipeline] = (await admin.ok('listPipelines')).pipelines;
    const { id, version, name, stages } = pipeline!;
    const body = { version, name, stages: stages.map((stage) => ({ ...stage })), homes: [] };
    const check = await admin.ok('checkPipeline', { params: { id }, body });
    return {
      days: stalledDays,
      list: rows.some((row) => row.id === deal.id),
      round: reasons.some(({ words }) => words.includes('stalled')),
      check: check.stages.find((stage) => stage.name === 'Inquiry')!.stalledAfter,
    };
  };
  // The evening of the 12th in London is the 13th of its owner: ten days.
  installation.clock.set('2026-11-12T20:00:00.000Z');
  const { check: before, ...none } = await seen();
  expect(none).toEqual({ days: 0, list: false, round: false });
  // Still the 13th in London, already the 14th of its owner.
  installation.clock.set('2026-11-13T12:00:00.000Z');
  const { check: after, ...stalled } = await seen();
  expect(stalled).toEqual({ days: 1, list: true, round: true });
  expect(after).toBeGreaterThan(before);
});
