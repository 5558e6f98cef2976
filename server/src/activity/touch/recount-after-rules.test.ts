import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLog } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let admin: Caller;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
  rep = await installation.as('rep');
  const contact = await aContact(rep);
  await aLog(rep, contact.id, { outcomeId: 'call-voicemail' });
});
afterEach(() => installation.close());

const state = async () => {
  await installation.work();
  return wholeState(installation.services.database);
};
const facts = async () =>
  installation.services.database.rows('SELECT last_touch_at IS NULL AS isNever, next_touch_due FROM contact');

test('another interval of a standing is counted in, and its undo too', async () => {
  const before = await state();
  const was = await facts();
  const { standings } = await admin.ok('listStandings');
  const changeId = randomUUID();
  const seen = standings.map(({ standing }) => standing);
  const changed = seen.map((standing) => ({
    ...standing,
    checkInDays: standing.checkInDays === null ? null : standing.checkInDays + 10,
  }));
  await admin.ok('saveStandings', { body: { seen, standings: changed, homes: [] }, changeId });
  await installation.work();
  expect(await facts()).not.toEqual(was);
  await admin.ok('undoChange', { params: { id: changeId } });
  expect(await state()).toEqual(before);
});

test('another rule of what counts as a touch is counted in, and its undo too', async () => {
  const before = await state();
  const was = await facts();
  const settings = await admin.ok('journalSettings');
  const changeId = randomUUID();
  const touchPolicy = {
    groups: { prospect: 'none', customer: 'none', former: 'none' },
    standings: {},
  };
  await admin.ok('changeJournalSettings', { body: { ...settings, touchPolicy }, changeId });
  await installation.work();
  expect([was, await facts()]).toMatchObject([[{ isNever: 0 }], [{ isNever: 1 }]]);
  await admin.ok('undoChange', { params: { id: changeId } });
  expect(await state()).toEqual(before);
});
