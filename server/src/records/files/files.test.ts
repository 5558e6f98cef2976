import { endpoints, mostFileBytes, type StoredFile } from '@kettle/contract';
import request from 'supertest';
import { assertRoom } from './room';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

const upload = (query: object, bytes: Buffer, caller = rep) => caller.upload({ ...query }, bytes);
const list = async (contactId: string) => (await rep.ok('listFiles', { query: { contactId } })).files;
const png = Buffer.from('89504e470d0a1a0a', 'hex');

test('what was sent in parts comes back byte for byte, and the journal says who added it', async () => {
  const { id } = await aContact(rep);
  const bytes = Buffer.alloc(2_500_000);
  for (let at = 0; at < bytes.length; at += 1) bytes[at] = at % 251;
  const sent = await upload({ contactId: id, name: 'Angebot – ä.bin' }, bytes);
  expect(sent.body).toMatchObject({ name: 'Angebot – ä.bin', size: bytes.length, canPreview: false });
  const got = await rep.call('getFile', { params: { id: (sent.body as StoredFile).id } });
  expect(Buffer.compare(got.body as Buffer, bytes)).toBe(0);
  expect((await journalOf(rep, { contactId: id }))[0]?.body).toBe('File added: Angebot – ä.bin');
});

test.each([
  ['page.html', Buffer.from('<script>alert(1)</script>'), 'application/octet-stream', 'attachment'],
  ['drawing.svg', Buffer.from('<svg onload="alert(1)"/>'), 'application/octet-stream', 'attachment'],
  ['photo.png', png, 'image/png', 'inline'],
  ['offer.pdf', Buffer.from('%PDF-1.4'), 'application/pdf', 'inline'],
])('%s never runs as a page of ours', async (name, bytes, type, disposition) => {
  const { id } = await aContact(rep);
  const { body } = await upload({ contactId: id, name }, bytes);
  const got = await rep.call('getFile', {
    params: { id: (body as StoredFile).id },
    query: { preview: 'yes' },
  });
  expect(got.headers).toMatchObject({ 'content-type': type, 'x-content-type-options': 'nosniff' });
  expect(got.headers['content-disposition']).toMatch(new RegExp(`^${disposition};`));
  expect(got.headers['content-security-policy']).toBe(
    `default-src 'none'; style-src 'unsafe-inline'; ${type === 'application/pdf' ? "object-src 'self'" : 'sandbox'}`,
  );
});

test('one that is too large is refused, and nothing of it stays', async () => {
  const { id } = await aContact(rep);
  const sent = await upload({ contactId: id, name: 'film.mov' }, Buffer.alloc(mostFileBytes + 1));
  expect(sent.body.code).toBe('too-large');
  expect(await list(id)).toEqual([]);
  const left = await installation.services.database.rows("SELECT 1 FROM stored_file WHERE name = 'film.mov'");
  expect(left).toEqual([]);
});

test('an empty one, one about nothing, and one for a colleague’s contact are refused', async () => {
  const other = await installation.as('rep');
  const { id } = await aContact(rep);
  expect((await upload({ contactId: id, name: 'a.txt' }, Buffer.alloc(0))).body).toMatchObject({
    code: 'invalid-request',
  });
  expect((await upload({ name: 'a.txt' }, png)).status).toBe(400);
  expect((await upload({ contactId: id, name: 'a.txt' }, png, other)).body.code).toBe('not-yours');
  expect(
    (
      await request(installation.app)
        .post(endpoints.uploadFile.split(' ')[1]!)
        .set('Origin', 'http://kettle.test')
    ).status,
  ).toBe(401);
});

test('one taken away is in no list, and comes back', async () => {
  const { id } = await aContact(rep);
  const { body } = await upload({ contactId: id, name: 'a.png' }, png);
  const params = { id: (body as StoredFile).id };
  await rep.ok('removeFile', { params });
  expect(await list(id)).toEqual([]);
  await rep.ok('restoreFile', { params });
  expect((await list(id)).map((file) => file.name)).toEqual(['a.png']);
});

describe('programs', () => {
  test.each(['setup.exe', 'invoice.pdf.exe', 'run.BAT', 'x.js. ', 'offer.lnk'])(
    '%s is refused by its name',
    async (name) => {
      const { id } = await aContact(rep);
      const sent = await upload({ contactId: id, name }, Buffer.from('harmless'));
      expect(sent.body).toMatchObject({ status: 422, code: 'program-refused' });
      expect((await rep.ok('listFiles', { query: { contactId: id } })).files).toEqual([]);
    },
  );

  test.each([
    ['Windows', '4d5a9000'],
    ['Linux', '7f454c46'],
    ['macOS', 'cffaedfe'],
    ['a script', '23212f62'],
  ])('of %s are refused by their first bytes, whatever they are called', async (_, hex) => {
    const { id } = await aContact(rep);
    const sent = await upload({ contactId: id, name: 'offer.pdf' }, Buffer.from(hex, 'hex'));
    expect(sent.body).toMatchObject({ code: 'program-refused' });
  });

  test.each(['report.js.pdf', 'com', 'notes.txt', 'a.docx'])('%s is none', async (name) => {
    const { id } = await aContact(rep);
    expect((await upload({ contactId: id, name }, Buffer.from('%PDF'))).status).toBe(200);
  });
});

test('without room on the disk, or beyond what one person may keep, no file is taken', async () => {
  const { database } = installation.services;
  await expect(assertRoom(database, rep.id, { least: Number.MAX_SAFE_INTEGER })).rejects.toMatchObject({
    status: 507,
    code: 'disk-full',
  });
  const { id } = await aContact(rep);
  await upload({ contactId: id, name: 'x.txt' }, Buffer.from('12345'));
  await expect(assertRoom(database, rep.id, { most: 5 })).rejects.toMatchObject({ code: 'quota-full' });
  await assertRoom(database, rep.id, { most: 5_000_000, least: 0 });
});
