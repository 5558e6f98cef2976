import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLog } from '../../../testing/people';
import { learnAnswerRates, readAnswerRates, readOwnHours } from './answer-rates';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

const learn = () =>
  installation.services.database.transaction((tx) => learnAnswerRates(tx, installation.clock.now()));

test('tries are counted by weekday and hour on the clock of whoever was tried, summer and winter', async () => {
  const here = await aContact(rep);
  const there = await aContact(rep, { country: 'PT', zone: 'Atlantic/Azores' });
  for (const [at, contact, outcomeId] of [
    ['2026-07-01T09:10:00.000Z', here, 'call-spoke'],
    ['2026-11-20T10:20:00.000Z', here, 'call-no-answer'],
    ['2026-11-20T10:40:00.000Z', there, 'call-spoke'],
    ['2026-11-21T00:10:00.000Z', there, 'call-no-answer'],
  ] as const)
    await aLog(rep, contact.id, { at, outcomeId });
  await learn();
  const calls = (await readAnswerRates(installation.services.database)).filter(
    ({ channel }) => channel === 'call',
  );
  expect(calls).toEqual([
    { channel: 'call', group: 'prospect', weekday: 3, hour: 10, tried: 1, answered: 1 },
    { channel: 'call', group: 'prospect', weekday: 5, hour: 9, tried: 1, answered: 1 },
    { channel: 'call', group: 'prospect', weekday: 5, hour: 10, tried: 1, answered: 0 },
    { channel: 'call', group: 'prospect', weekday: 5, hour: 23, tried: 1, answered: 0 },
  ]);
  expect(await readOwnHours(installation.services.database, there.id, installation.clock.now())).toEqual(
    expect.arrayContaining([
      { channel: 'call', weekday: 5, hour: 9, tried: 1, answered: 1 },
      { channel: 'call', weekday: 5, hour: 23, tried: 1, answered: 0 },
    ]),
  );
  await learn();
  expect((await readAnswerRates(installation.services.database)).length).toBe(calls.length);
});

test('the walk proposes to park or stop once every way was tried, with the odds', async () => {
  const contact = await aContact(rep, {
    email: 'tried@firm.example',
    phone: '+441632960777',
    doNotContact: ['visit'],
  });
  for (const outcomeId of [
    'call-no-answer',
    'call-no-answer',
    'email-sent',
    'email-sent',
    'text-sent',
    'text-sent',
  ])
    await aLog(rep, contact.id, { outcomeId });
  const { choices } = await rep.ok('walkItem', { query: { contactId: contact.id, channel: 'call' } });
  const { proposal } = choices.find(({ outcome }) => outcome.id === 'call-no-answer')!;
  expect([proposal.words, proposal.step.kind]).toEqual(['Park it, or stop: every way was tried', 'none']);
  expect(proposal.why).toContain('3 tries by call');
});
