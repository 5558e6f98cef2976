import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';

let installation: Installation;
let admin: Caller;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
});
afterEach(() => installation.close());

const left = async () =>
  (await admin.ok('setup')).steps
    .filter(({ isDone, isSkipped }) => !isDone && !isSkipped)
    .map(({ name }) => name);

test('a step is done once what it is about is there, however it came', async () => {
  expect(await left()).toEqual(['organisation', 'hours', 'people', 'pipeline', 'contacts', 'mail']);
  await aContact(admin);
  await installation.as('rep');
  await admin.ok('changeOrganisationSettings', {
    body: { ...(await admin.ok('organisationSettings')), homeCountry: 'IE' },
  });
  expect(await left()).toEqual(['hours', 'pipeline', 'mail']);
});

test('a step is skipped and taken up again, and over another admin’s change it asks', async () => {
  const { version } = await admin.ok('setup');
  const skipped = await admin.ok('changeSetup', { body: { version, skipped: ['mail', 'hours'] } });
  expect(skipped.version).toBe(version + 1);
  expect(await left()).toEqual(['organisation', 'people', 'pipeline', 'contacts']);
  const late = await admin.call('changeSetup', { body: { version, skipped: ['people'] } });
  expect(late.status).toBe(409);
  const again = { version: skipped.version, skipped: ['mail'] };
  await admin.ok('changeSetup', { body: again });
  expect(await left()).toContain('hours');
});

test('it is the admins’, and an unknown step is refused', async () => {
  const rep = await installation.as('rep');
  expect((await rep.call('setup')).status).toBe(403);
  expect((await rep.call('changeSetup', { body: { version: 1, skipped: [] } })).status).toBe(403);
  expect((await admin.call('changeSetup', { body: { version: 1, skipped: ['moon'] } })).status).toBe(400);
});
