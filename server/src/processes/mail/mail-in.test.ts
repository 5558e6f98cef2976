import { createTransport, type SentMessageInfo } from 'nodemailer';
import { anImapServer, type ImapServer } from '../../../testing/imap-server';
import { install, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { readCursor, storeArrival } from './store-arrival';
import { readMailbox } from './mail-in-imap';
import { listenForMail, type ArrivedMail } from './mail-in-smtp';

const mailOf = (subject: string, from = 'maud@penrow.example') =>
  `From: Maud Ellery <${from}>\nTo: rep@hollinbeck.example\nSubject: ${subject}\nMessage-ID: <${subject}@penrow.example>\n\nHello\n`;

describe('over IMAP', () => {
  let server: ImapServer;
  let installation: Installation;
  beforeAll(async () => {
    server = await anImapServer();
  });
  beforeEach(async () => {
    installation = await install();
  });
  afterEach(() => installation.close());
  afterAll(() => server.close());

  const readAll = (user: string) =>
    readMailbox({
      url: server.urlOf(user),
      cursor: () => readCursor(installation.services.database, user),
      store: (mail, cursor) => storeArrival(installation.services, mail, { name: user, cursor }),
    });
  const subjects = async () =>
    (
      await installation.services.database.rows<{ subject: string }>(
        'SELECT subject FROM mail ORDER BY subject',
      )
    ).map(({ subject }) => subject);

  test('what is new is read once, filed with whom it is from, and left where it is', async () => {
    const rep = await installation.as('rep');
    const contact = await aContact(rep, { email: 'maud@penrow.example' });
    await server.put('once', mailOf('one'));
    await server.put('once', mailOf('two', 'somebody@elsewhere.example'));
    expect(await readAll('once')).toBe(2);
    expect(await readAll('once')).toBe(0);
    await installation.work();
    const { rows } = await rep.ok('listMail', { query: { contactId: contact.id } });
    expect(rows).toEqual([expect.objectContaining({ subject: 'one', state: 'filed', kind: 'human' })]);
    await server.put('once', mailOf('three'));
    expect(await readAll('once')).toBe(1);
    await installation.work();
    expect(await subjects()).toEqual(['one', 'three', 'two']);
  });

  test('a mailbox made anew is read from its start; what is known stays once', async () => {
    await server.put('anew', mailOf('one'));
    await readAll('anew');
    await server.renew('anew');
    await server.put('anew', mailOf('one'));
    await server.put('anew', mailOf('four'));
    expect(await readAll('anew')).toBe(2);
    await installation.work();
    expect(await subjects()).toEqual(['four', 'one']);
  });

  test('what could not be stored is read again', async () => {
    await server.put('again', mailOf('one'));
    const broken = readMailbox({
      url: server.urlOf('again'),
      cursor: () => readCursor(installation.services.database, 'again'),
      store: () => Promise.reject(new Error('the database is away')),
    });
    await expect(broken).rejects.toThrow('the database is away');
    expect(await readAll('again')).toBe(1);
  });

  test('an empty mailbox and a wrong password', async () => {
    await server.put('empty', mailOf('one'));
    await server.renew('empty');
    expect(await readAll('empty')).toBe(0);
    const url = server.urlOf('empty').replace(/:[^:@]+@/, ':wrong@');
    const store = () => Promise.resolve();
    await expect(readMailbox({ url, cursor: () => Promise.resolve(null), store })).rejects.toThrow();
  });
});

describe('over SMTP', () => {
  const send = (port: number, envelope: { from: string; to: string }): Promise<SentMessageInfo> =>
    createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true }).sendMail({
      envelope,
      raw: mailOf('one').replaceAll('\n', '\r\n'),
    });

  test('the sender hears “stored” only once it is; whom nobody knows is refused before the content', async () => {
    const stored: ArrivedMail[] = [];
    let isAway = true;
    const listener = await listenForMail({
      host: '127.0.0.1',
      port: 0,
      isOurs: (address) => Promise.resolve(address === 'rep@hollinbeck.example'),
      store: (mail) => {
        if (isAway) return Promise.reject(new Error('away'));
        stored.push(mail);
        return Promise.resolve();
      },
    });
    const ours = { from: 'maud@penrow.example', to: 'Rep@hollinbeck.example' };
    await expect(send(listener.port, ours)).rejects.toMatchObject({ responseCode: 451 });
    isAway = false;
    expect((await send(listener.port, ours)).response).toContain('stored');
    await expect(send(listener.port, { ...ours, to: 'nobody@hollinbeck.example' })).rejects.toMatchObject({
      responseCode: 550,
    });
    // A return has no sender: RFC 5321, section 4.5.5.
    await send(listener.port, { ...ours, from: '' });
    expect(stored.map(({ envelopeFrom }) => envelopeFrom)).toEqual(['maud@penrow.example', '']);
    expect(stored[0]!.content.toString()).toContain('Subject: one');
    await listener.close();
  });
});
