import { install, type Caller, type Installation } from '../../../testing/installation';
import { letRepsRelease } from '../../../testing/release';
import { aContact } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  await letRepsRelease(installation);
});
afterEach(() => installation.close());

const letter = {
  name: 'Hello',
  channel: 'email',
  subject: 'Water for {{ company.name }}',
  body: 'Dear {{ contact.given_name }}, {% include "offer" %}',
};
const list = () => rep.ok('listTemplates');
const make = (part: object = {}) => rep.ok('createTemplate', { body: { ...letter, ...part } });
const snippet = (body = 'I am near you next week.') =>
  rep.ok('createSnippet', { body: { name: 'offer', body } });

describe('a template', () => {
  test('is changed over its version; an older one shows what is there now', async () => {
    await snippet();
    const made = await make();
    const changed = await rep.ok('changeTemplate', {
      params: { id: made.id },
      body: { ...letter, subject: 'Soft water', version: made.version },
    });
    expect(changed).toMatchObject({ subject: 'Soft water', version: made.version + 1 });
    const stale = await rep.call('changeTemplate', {
      params: { id: made.id },
      body: { ...letter, subject: 'Mine', version: made.version },
    });
    expect(stale.body).toMatchObject({ code: 'stale', current: { subject: 'Soft water' } });
  });

  test('counts the cadences that use it, and is retired without being lost', async () => {
    await snippet();
    const { id, version } = await make();
    const step = {
      channel: 'email',
      offsetDays: 0,
      windowStart: 540,
      windowEnd: 1020,
      minutes: 4,
      purpose: 'hello',
      templateIds: [id],
    };
    await rep.ok('createCadence', { body: { name: 'One', definition: { steps: [step] } } });
    expect((await list()).templates[0]).toMatchObject({ uses: 1, isRetired: false });
    await rep.ok('changeTemplate', { params: { id }, body: { ...letter, version, isRetired: true } });
    expect((await list()).templates[0]).toMatchObject({ uses: 1, isRetired: true });
  });

  test.each([
    ['an e-mail without a subject', { subject: '' }, 'subject', 'an e-mail needs a subject'],
    ['no text', { body: ' ' }, 'body', 'must not be empty'],
  ])('%s is refused at its field', async (_, part, path, message) => {
    const refused = await rep.call('createTemplate', { body: { ...letter, ...part } });
    expect(refused.body).toMatchObject({ code: 'invalid-request', fields: [{ path, message }] });
  });

  test('that cannot be read is refused with its line, before anybody gets it', async () => {
    const refused = await rep.call('createTemplate', { body: { ...letter, body: 'Dear\n{{ contact.name' } });
    expect(refused.status).toBe(400);
    expect(refused.body.fields[0]).toMatchObject({ path: 'body' });
    expect(refused.body.fields[0].message).toMatch(/line:? ?2/i);
  });

  test('its name is used once', async () => {
    await snippet();
    await make();
    expect((await rep.call('createTemplate', { body: letter })).body).toMatchObject({
      code: 'already-exists',
    });
  });
});

describe('filled for somebody', () => {
  const fillFor = (contactId: string, body: string) =>
    rep.ok('fillText', { body: { channel: 'email', subject: 'x', body, contactId } });

  test('facts of person, firm and sender stand in their places', async () => {
    await snippet();
    const contact = await aContact(rep, { companyName: 'Penrow Laundry' });
    const filled = await fillFor(contact.id, `${letter.body} {{ sender.first_name }}, {{ company.name }}`);
    expect(filled).toEqual({
      subject: 'x',
      body: 'Dear Maud, I am near you next week. Imogen, Penrow Laundry',
      missing: [],
      wrong: [],
    });
  });

  test('the firm is named as the settings call it; while they do not, it is missing', async () => {
    const contact = await aContact(rep);
    const words = 'Imogen, {{ sender.organisation }}';
    expect(await fillFor(contact.id, words)).toMatchObject({ missing: ['sender.organisation'] });
    const admin = await installation.as('admin');
    const stored = await admin.ok('organisationSettings');
    await admin.ok('changeOrganisationSettings', { body: { ...stored, name: ' Hollinbeck Water ' } });
    expect(await fillFor(contact.id, words)).toMatchObject({ body: 'Imogen, Hollinbeck Water', missing: [] });
    const long = await admin.call('changeOrganisationSettings', {
      body: { ...stored, version: stored.version + 1, name: 'x'.repeat(81) },
    });
    expect(long.body.fields).toEqual([{ path: 'name', message: 'must be at most 80 characters' }]);
  });

  test('a fact that is not known is named and keeps its place, in the draft of a mail too', async () => {
    await snippet();
    const contact = await aContact(rep);
    const filled = await fillFor(contact.id, 'It ends on {{ agreement.ends }}.');
    expect(filled).toMatchObject({ body: 'It ends on {{ agreement.ends }}.', missing: ['agreement.ends'] });
    const { id } = await make({ body: 'It ends on {{ agreement.ends }}.' });
    const draft = await rep.ok('draftMail', { query: { contactId: contact.id, templateId: id } });
    expect(draft).toMatchObject({ missing: ['agreement.ends'], templateId: id });
    expect(draft.body).toContain('{{ agreement.ends }}');
  });

  test('a draft of a text offers texts, and says why nothing can be sent', async () => {
    await snippet();
    await make();
    const { id } = await make({ name: 'Short', channel: 'text', subject: '', body: 'Hello' });
    const contact = await aContact(rep, { phone: null });
    const draft = await rep.ok('draftMail', { query: { contactId: contact.id, channel: 'text' } });
    expect(draft.templates).toEqual([{ id, name: 'Short' }]);
    expect(draft).toMatchObject({ to: null, blocked: 'No number is known' });
  });
});

describe('a snippet', () => {
  test('in use is not removed; one that is not, is', async () => {
    const offer = await snippet();
    const made = await make();
    const kept = await rep.call('removeSnippet', { params: { id: offer.id } });
    expect(kept.body).toMatchObject({ code: 'in-use' });
    expect(kept.body.detail).toContain('Hello');
    await rep.ok('changeTemplate', {
      params: { id: made.id },
      body: { ...letter, body: 'Dear', version: made.version },
    });
    await rep.ok('removeSnippet', { params: { id: offer.id } });
    expect((await list()).snippets).toEqual([]);
  });

  test('changes what its templates say, over its version', async () => {
    const offer = await snippet();
    const body = { name: 'offer', body: 'I come on Thursday.', version: offer.version };
    await rep.ok('changeSnippet', { params: { id: offer.id }, body });
    const late = { ...body, body: 'I come on Friday.' };
    const again = await rep.call('changeSnippet', { params: { id: offer.id }, body: late });
    expect(again.body).toMatchObject({ code: 'stale', fields: [{ path: 'body' }] });
    const contact = await aContact(rep);
    const filled = await rep.ok('fillText', {
      body: { channel: 'email', subject: '', body: '{% include "offer" %}', contactId: contact.id },
    });
    expect(filled.body).toBe('I come on Thursday.');
  });

  test('has a short name of small letters', async () => {
    const refused = await rep.call('createSnippet', { body: { name: 'My Offer', body: 'x' } });
    expect(refused.body.fields[0]).toMatchObject({ path: 'name' });
  });
});

test('everybody has a signature of their own', async () => {
  const other = await installation.as('rep');
  await rep.ok('changeMySignature', { body: { signature: 'Imogen\nHollinbeck Water' } });
  expect((await list()).signature).toBe('Imogen\nHollinbeck Water');
  expect((await other.ok('listTemplates')).signature).toBe('');
});
