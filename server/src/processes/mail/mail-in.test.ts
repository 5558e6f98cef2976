import { connect, type Socket } from 'node:net';
import { createTransport, type SentMessageInfo } from 'nodemailer';
import { anImapServer, type ImapServer } from '../../../testing/imap-server';
import { install, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { readCursor, storeArrival } from './store-arrival';
import { aMailServer } from '../../../testing/mail-server';
import { readMailbox } from './mail-in-imap';
import { isThisMachine, smtpOut } from './mail-out';
import { listenForMail, type ArrivedMail } from './mail-in-smtp';

const mailOf = (subject: string, from = 'maud@penrow.example') =>
  `Authentication-Results: mx.kettle.test; dmarc=pass\nFrom: Maud Ellery <${from}>\nTo: rep@hollinbeck.example\nSubject: ${subject}\nMessage-ID: <${subject}@penrow.example>\n\nHello\n`;

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

  const open = (limits: object) =>
    listenForMail({
      host: '127.0.0.1',
      port: 0,
      isOurs: () => Promise.resolve(true),
      store: () => Promise.resolve(),
      limits,
    });
  const ours = { from: 'maud@penrow.example', to: 'rep@hollinbeck.example' };

  test('what is larger than it may be is refused, and a line that never ends is cut', async () => {
    const listener = await open({ mostBytes: 1000, patienceBytes: 2000 });
    const large = (bytes: number) =>
      createTransport({ host: '127.0.0.1', port: listener.port, secure: false, ignoreTLS: true }).sendMail({
        envelope: { ...ours, size: 10 },
        raw: `Subject: x\r\n\r\n${'x'
          .repeat(70)
          .concat('\r\n')
          .repeat(bytes / 72)}`,
      });
    await expect(large(1800)).rejects.toMatchObject({ responseCode: 552 });
    await expect(large(400_000)).rejects.not.toHaveProperty('responseCode', 552);
    expect((await send(listener.port, ours)).response).toContain('stored');
    await listener.close();
  });

  test('one address has so many mails a minute', async () => {
    const listener = await open({ mostMailsAMinute: 2 });
    await send(listener.port, ours);
    await send(listener.port, ours);
    await expect(send(listener.port, ours)).rejects.toMatchObject({ responseCode: 451 });
    await listener.close();
  });

  test('one address has so many lines at once, and as many again when they are closed', async () => {
    const listener = await open({ mostLinesOfAddress: 2 });
    const line = () =>
      new Promise<{ first: string; socket: Socket }>((resolve) => {
        const socket = connect(listener.port, '127.0.0.1');
        socket.once('data', (data) => resolve({ first: data.toString().slice(0, 3), socket }));
      });
    const [one, two, three] = [await line(), await line(), await line()];
    expect([one.first, two.first, three.first]).toEqual(['220', '220', '421']);
    const gone = new Promise((resolve) => one.socket.once('close', resolve));
    one.socket.resume().destroy();
    await gone;
    // The server hears of it a moment later.
    let again = await line();
    for (let n = 0; n < 100 && again.first === '421'; n += 1) again = await line();
    expect(again.first).toBe('220');
    for (const { socket } of [two, three, again]) socket.destroy();
    await listener.close();
  });
});

test('a password goes only over a line that others cannot read', async () => {
  const server = await aMailServer();
  const away = server.url.replace('127.0.0.1', '0.0.0.0');
  // Without a password the line is taken as it is.
  (await smtpOut(away).open()).close();
  await expect(smtpOut(away.replace('smtp://', 'smtp://rep:secret@')).open()).rejects.toThrow(/STARTTLS/);
  expect(['127.0.0.1', 'localhost', '[::1]'].map(isThisMachine)).toEqual([true, true, true]);
  expect(['mail.hollinbeck.example', '127.example', '0.0.0.0'].map(isThisMachine)).toEqual([
    false,
    false,
    false,
  ]);
  await server.close();
});
