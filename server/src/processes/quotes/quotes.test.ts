import { randomUUID } from 'node:crypto';
import type { Deal, Quote } from '@kettle/contract';
import request from 'supertest';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, journalOf, shapeStages, stagesOf } from '../../../testing/people';
import { readPdf } from '../../../testing/read-pdf';
import { bytesOf } from '../../platform/ids';
import { smtpOut } from '../mail/index';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let admin: Caller;
let deal: Deal;
let contact: Awaited<ReturnType<typeof aContact>>;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  admin = await installation.as('admin', 'Petra Lindholm');
  rep = await installation.as('rep', 'Imogen Thorne');
  contact = await aContact(rep, { email: 'maud@penrow.example' });
  await installation.services.database.change("UPDATE session SET expires_at = '2027-12-01'");
  deal = await aDeal(rep, contact.id, { name: 'Second softener', lines: [softener, salt] });
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const softener = {
  ...{ productId: null, name: 'Softener', quantity: 1, priceMinor: 385_000, discountPercent: 10 },
  billing: 'once',
};
const salt = {
  productId: null,
  name: 'Salt',
  quantity: 12,
  priceMinor: 1_250,
  discountPercent: 0,
  billing: 'yearly',
};

const draft = () => rep.ok('createQuote', { body: { dealId: deal.id } });
const bodyOf = (quote: Quote, part: object = {}) => ({
  ...{ version: quote.version, title: quote.title, intro: quote.intro, closing: quote.closing },
  validUntil: quote.validUntil,
  lines: quote.lines.map(({ isChosen: _, netMinor: __, ...line }) => line),
  ...part,
});
const change = (quote: Quote, part: object = {}) =>
  rep.ok('changeQuote', { params: { id: quote.id }, body: bodyOf(quote, part) });
const send = (quote: Quote, part: object = {}, changeId?: string) =>
  rep.ok('sendQuote', {
    params: { id: quote.id },
    body: { version: quote.version, mail: null, ...part },
    ...(changeId !== undefined && { changeId }),
  });
const page = (quote: Quote) => new URL(quote.link!).pathname;
const look = async (quote: Quote) => (await request(installation.app).get(page(quote))).text;
const answer = (quote: Quote, form: object) =>
  request(installation.app)
    .post(page(quote))
    .type('form')
    .send({ n: quote.n, ...form });
const seen = (quote: Quote) => rep.ok('getQuote', { params: { id: quote.id } });

describe('a draft', () => {
  test('has the deal’s lines with the usual tax, and adds up; without lines it has the deal’s value', async () => {
    const quote = await draft();
    expect(quote).toMatchObject({
      ...{
        state: 'draft',
        number: null,
        n: 0,
        title: 'Second softener',
        validUntil: '2026-12-24',
        link: null,
      },
      lines: [
        { name: 'Softener', netMinor: 346_500, taxPercent: 20, isOptional: false },
        { name: 'Salt', netMinor: 15_000, billing: 'yearly' },
      ],
      totals: {
        ...{ netMinor: 361_500, taxMinor: 72_300, totalMinor: 433_800 },
        taxes: [{ percent: 20, netMinor: 361_500, taxMinor: 72_300 }],
      },
    });
    const bare = await aDeal(rep, contact.id, { amountMinor: 50_000 });
    const whole = await rep.ok('createQuote', { body: { dealId: bare.id } });
    expect(whole.lines).toMatchObject([{ name: bare.name, netMinor: 50_000 }]);
  });

  test('is changed field by field: two people’s changes both stay, of the same field one is asked', async () => {
    const quote = await draft();
    await change(quote, { intro: 'As agreed at your plant room.' });
    const merged = await change(quote, { title: 'Softener and salt' });
    expect(merged).toMatchObject({ title: 'Softener and salt', intro: 'As agreed at your plant room.' });
    const both = await rep.call('changeQuote', {
      params: { id: quote.id },
      body: bodyOf(quote, { intro: 'Otherwise' }),
    });
    expect(both.body.code).toBe('stale');
  });

  test('refuses what cannot be at its field', async () => {
    const quote = await draft();
    const refused = async (part: object) => {
      const { status, body } = await rep.call('changeQuote', {
        params: { id: quote.id },
        body: bodyOf(quote, part),
      });
      return [status, body.fields?.[0]?.path];
    };
    expect(await refused({ title: '' })).toEqual([400, 'title']);
    expect(await refused({ lines: [{ ...softener, taxPercent: 101 }] })).toEqual([400, 'lines.0.taxPercent']);
    expect(await refused({ lines: [{ ...softener, taxPercent: 20, quantity: 0 }] })).toEqual([
      400,
      'lines.0.quantity',
    ]);
    expect(
      await refused({ lines: Array(11).fill({ ...softener, taxPercent: 20, priceMinor: 10_000_000_000 }) }),
    ).toEqual([400, 'lines']);
    const late = await change(quote, { validUntil: '2026-11-23' });
    const over = await rep.call('sendQuote', {
      params: { id: quote.id },
      body: { version: late.version, mail: null },
    });
    expect(over.body.fields).toEqual([{ path: 'validUntil', message: 'must not be over' }]);
    const empty = await change(late, { validUntil: '2026-12-24', lines: [] });
    const none = await rep.call('sendQuote', {
      params: { id: quote.id },
      body: { version: empty.version, mail: null },
    });
    expect(none.body.fields[0].path).toBe('lines');
  });

  test('is deleted, and comes back by its undo; one that has its number stays', async () => {
    const quote = await draft();
    const changeId = randomUUID();
    await rep.ok('removeQuote', { params: { id: quote.id }, changeId });
    expect((await rep.ok('listQuotes', { query: { dealId: deal.id } })).quotes).toEqual([]);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await seen(quote)).lines).toHaveLength(2);
    const sent = await send(await seen(quote));
    const again = await rep.ok('reviseQuote', { params: { id: quote.id }, body: { version: sent.version } });
    const refused = await rep.call('removeQuote', { params: { id: again.id } });
    expect(refused.body.code).toBe('in-use');
  });

  test('a colleague’s is neither read nor changed where records are one’s own', async () => {
    const quote = await draft();
    const other = await installation.as('rep', 'Owen Marsh');
    expect(
      (await other.call('changeQuote', { params: { id: quote.id }, body: bodyOf(quote) })).body.code,
    ).toBe('not-yours');
    const settings = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...settings, reading: 'own' } });
    for (const name of ['getQuote', 'quotePdf'] as const)
      expect((await other.call(name, { params: { id: quote.id } })).status).toBe(404);
  });
});

describe('sending', () => {
  test('numbers have no gaps, however many send at once, and one keeps its own through undo and versions', async () => {
    const drafts = await Promise.all(Array.from({ length: 6 }, draft));
    const sent = await Promise.all(drafts.map((each) => send(each)));
    expect(sent.map(({ number }) => number).sort()).toEqual([
      'Q-0001',
      'Q-0002',
      'Q-0003',
      'Q-0004',
      'Q-0005',
      'Q-0006',
    ]);
    const changeId = randomUUID();
    const seventh = await send(await draft(), {}, changeId);
    await rep.ok('undoChange', { params: { id: changeId } });
    const undone = await seen(seventh);
    expect([undone.state, undone.number]).toEqual(['draft', 'Q-0007']);
    expect((await send(undone)).number).toBe('Q-0007');
    expect((await send(await draft())).number).toBe('Q-0008');
  });

  test('what was sent is kept word for word; another version has its own', async () => {
    const first = await send(await draft());
    const revised = await rep.ok('reviseQuote', {
      params: { id: first.id },
      body: { version: first.version },
    });
    expect(await look(first)).toContain('Another version of this quote is being written.');
    const second = await send(
      await change(revised, { title: 'Softener alone', lines: [{ ...softener, taxPercent: 20 }] }),
    );
    expect([second.number, second.n]).toEqual([first.number, 2]);
    expect(second.versions).toMatchObject([
      { n: 2, totalMinor: 415_800 },
      { n: 1, totalMinor: 433_800 },
    ]);
    expect(await look(second)).toContain('Q-0001, version 2');
    const stored = await installation.services.database.rows<{ content: string }>(
      'SELECT content FROM quote_version WHERE quote_id = :id ORDER BY n',
      { id: bytesOf(first.id) },
    );
    expect((JSON.parse(stored[0]!.content) as { title: string }).title).toBe('Second softener');
  });

  test('a step asks about it before it lapses, and is dropped once it is decided or withdrawn', async () => {
    const quote = await send(await draft());
    const asking = async () =>
      (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks.filter(({ purpose }) =>
        purpose.startsWith('ask about'),
      );
    expect(await asking()).toMatchObject([
      { dueOn: '2026-12-19', channel: 'call', purpose: 'ask about quote Q-0001, valid until Thu 24 Dec' },
    ]);
    await rep.ok('withdrawQuote', { params: { id: quote.id }, body: { version: quote.version } });
    expect(await asking()).toEqual([]);
    expect(await look(quote)).toContain('This quote was withdrawn.');
  });

  test('by mail with its link; to somebody without an address, or who asked for none, it is refused at its field', async () => {
    const quote = await send(await draft(), { mail: { subject: 'Your quote', text: 'Good morning Maud,' } });
    installation.clock.set('2026-11-24T09:20:00.000Z');
    await installation.work();
    expect(server.got[0]!.subject).toBe('Your quote');
    expect(server.got[0]!.text).toContain(quote.link!);
    const silent = await aDeal(rep, (await aContact(rep, { email: null })).id);
    const other = await rep.ok('createQuote', { body: { dealId: silent.id } });
    const refused = await rep.call('sendQuote', {
      params: { id: other.id },
      body: { version: other.version, mail: { subject: 'Your quote', text: 'Hello' } },
    });
    expect(refused.body.fields[0].path).toBe('mail');
    expect((await rep.ok('getQuote', { params: { id: other.id } })).number).toBeNull();
  });

  test('one that changed since it was seen is not sent', async () => {
    const quote = await draft();
    await change(quote, { intro: 'Other words' });
    const late = await rep.call('sendQuote', {
      params: { id: quote.id },
      body: { version: quote.version, mail: null },
    });
    expect([late.status, late.body.code]).toEqual([409, 'stale']);
  });
});

describe('the customer’s page', () => {
  test('says who offers what, with the tax of each rate; looking at it changes nothing', async () => {
    await admin.ok('changeSellingSettings', {
      body: {
        ...(await admin.ok('sellingSettings')),
        ...{
          street: '4 Mill Lane',
          postcode: 'MD3 4RT',
          city: 'Marrow',
          vatId: 'GB123456789',
          payment: 'Bank of Marrowdale, 12-34-56',
        },
      },
    });
    const quote = await send(
      await change(await draft(), { intro: 'Good <b>day</b>', closing: 'Kind regards' }),
    );
    const text = await look(quote);
    for (const words of [
      'Second softener',
      'Q-0001',
      'Thu 24 Dec',
      'Softener',
      '£3,465.00',
      'tax 20 %',
      '£723.00',
      '£4,338.00',
      'Good &lt;b&gt;day&lt;/b&gt;',
      'Bank of Marrowdale',
    ])
      expect(text).toContain(words);
    expect((await seen(quote)).version).toBe(quote.version);
    const [, pdf] = /<a href="([^"]+)">As PDF/.exec(text)!;
    const address = new URL(pdf!, quote.link!).pathname;
    expect((await request(installation.app).get(address)).headers['content-type']).toBe('application/pdf');
    const wrong = await request(installation.app).get('/out/quotes/AAAA');
    expect(wrong.status).toBe(404);
  });

  test('accepted by name: options that were chosen count, the deal is worth it and moves on, and the win is asked for', async () => {
    const withOption = [
      ...bodyOf(await draft()).lines,
      { ...salt, name: 'Second year of salt', taxPercent: 0, isOptional: true },
    ];
    const quote = await send(await change(await draft(), { lines: withOption }));
    expect(quote.totalMinor).toBe(433_800);
    expect(await look(quote)).toContain('take this too');
    const nameless = await answer(quote, { what: 'accept', name: ' ', words: 'Yes', chosen: '2' });
    expect(nameless.text).toContain('Please say who you are.');
    // Nothing that was typed is lost.
    expect(nameless.text).toContain('Yes</textarea>');
    expect(nameless.text).toContain('value="2" checked');
    const done = await answer(quote, {
      what: 'accept',
      name: 'Maud Ellery',
      words: 'Please start in May',
      chosen: '2',
    });
    expect(done.text).toContain('Accepted by Maud Ellery. Thank you.');
    // What they took is in the sum they see.
    expect(done.text).toContain('£4,488.00');
    const accepted = await seen(quote);
    expect(accepted).toMatchObject({
      ...{ state: 'accepted', decidedName: 'Maud Ellery', decidedWords: 'Please start in May' },
      totals: { netMinor: 376_500, totalMinor: 448_800 },
    });
    const now = await rep.ok('getDeal', { params: { id: deal.id } });
    const stages = await stagesOf(rep);
    expect([now.amountMinor, now.stageId, now.lines.length]).toEqual([376_500, stages.at(-1)!.id, 3]);
    const { tasks } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    expect(tasks.map(({ purpose }) => purpose)).toContain('win the deal: Maud Ellery accepted quote Q-0001');
    expect((await rep.ok('listNotifications')).notifications[0]!.words).toContain('Please start in May');
    expect((await journalOf(rep, { contactId: contact.id })).map(({ body }) => body).join()).toContain(
      'Maud Ellery accepted quote Q-0001: Please start in May',
    );
    // Whoever presses again changes nothing.
    await answer(quote, { what: 'decline', name: 'Somebody' });
    expect((await seen(quote)).state).toBe('accepted');
  });

  test('where the last stage asks for more, the deal stays in its stage, worth what was accepted', async () => {
    const stages = await stagesOf(rep);
    await shapeStages(admin, { [stages.at(-1)!.name]: { needs: ['decider'] } });
    const quote = await send(await draft());
    await answer(quote, { what: 'accept', name: 'Maud Ellery' });
    expect((await seen(quote)).state).toBe('accepted');
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).stageId).toBe(deal.stageId);
  });

  test('declined with words, or asked about: the owner has a step, and the question stays with the quote', async () => {
    const quote = await send(await draft());
    const asked = await answer(quote, { what: 'ask', name: 'Maud Ellery', words: 'Is salt included?' });
    expect(asked.text).toContain('The quote stays open.');
    expect((await answer(quote, { what: 'ask', name: 'Maud Ellery', words: '' })).text).toContain(
      'Please write your question.',
    );
    expect((await seen(quote)).questions).toMatchObject([
      { name: 'Maud Ellery', words: 'Is salt included?' },
    ]);
    await answer(quote, { what: 'decline', name: 'Maud Ellery', words: 'Too dear' });
    expect(await seen(quote)).toMatchObject({ state: 'declined', decidedWords: 'Too dear' });
    const { tasks } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    expect(tasks.map(({ purpose }) => purpose)).toEqual(
      expect.arrayContaining([
        'answer Maud Ellery: Is salt included?',
        'ask why: Maud Ellery declined quote Q-0001',
      ]),
    );
  });

  test('the version that is answered must be the one that is out; one that lapsed is not accepted', async () => {
    const first = await send(await draft());
    const revised = await rep.ok('reviseQuote', {
      params: { id: first.id },
      body: { version: first.version },
    });
    const second = await send(revised);
    expect((await answer(first, { what: 'accept', name: 'Maud Ellery' })).text).toContain(
      'It changed meanwhile.',
    );
    installation.clock.set('2026-12-25T09:00:00.000Z');
    expect(await look(second)).toContain('not valid any more');
    await answer(second, { what: 'accept', name: 'Maud Ellery' });
    expect((await seen(second)).state).toBe('lapsed');
  });

  test('two who accept at once: one of them does', async () => {
    const quote = await send(await draft());
    await Promise.all([
      answer(quote, { what: 'accept', name: 'Maud Ellery' }),
      answer(quote, { what: 'accept', name: 'Tom Ellery' }),
    ]);
    const { tasks } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    expect(tasks.filter(({ purpose }) => purpose.startsWith('win the deal'))).toHaveLength(1);
  });

  test('as PDF it has every line, its sums and its version, in our type; a long one repeats its heads', async () => {
    const many = Array.from({ length: 60 }, (_, at) => ({
      ...softener,
      name: `Łódź valve ${at}`,
      taxPercent: 20,
    }));
    const quote = await send(await change(await draft(), { lines: many }));
    const pdf = await request(installation.app).get(`${page(quote)}/pdf`);
    const { pages, text, fonts } = readPdf(pdf.body as Buffer);
    expect(pages).toBeGreaterThan(1);
    expect(text.match(/Łódź valve/g)).toHaveLength(60);
    expect(text).toContain(`page 1 of ${pages}`);
    expect(text.match(/quantity/g)!.length).toBe(pages);
    expect(fonts.every((font) => /^[A-Z]{6}\+HankenGrotesk/.test(font))).toBe(true);
    const own = await rep.call('quotePdf', { params: { id: quote.id } });
    expect(readPdf(own.body as Buffer).text).toContain('Q-0001');
  });
});

test('what was said otherwise than on the page is told by the rep', async () => {
  const quote = await send(await draft());
  const accepted = await rep.ok('decideQuote', {
    params: { id: quote.id },
    body: { version: quote.version, as: 'accepted', name: 'Maud Ellery', words: 'By telephone' },
  });
  expect(accepted).toMatchObject({ state: 'accepted', decidedName: 'Maud Ellery' });
});

test('a person who is erased is in no quote, its sums stay; the deal is not deleted while one hangs on it', async () => {
  const quote = await send(await draft());
  await answer(quote, { what: 'ask', name: 'Maud Ellery', words: 'Is salt included?' });
  await answer(quote, { what: 'accept', name: 'Maud Ellery', words: 'Good' });
  const now = await rep.ok('getDeal', { params: { id: deal.id } });
  const refused = await rep.call('removeRecord', {
    body: { kind: 'deal', id: deal.id, version: now.version },
  });
  expect(refused.body.code).toBe('in-use');
  await admin.ok('erasePerson', {
    params: { id: contact.id },
    body: { version: contact.version, name: contact.name },
  });
  const after = await admin.ok('getQuote', { params: { id: quote.id } });
  expect(after).toMatchObject({ decidedName: null, decidedWords: '', questions: [], totalMinor: 433_800 });
  const rows = await installation.services.database.rows<{ content: string }>(
    'SELECT content FROM quote_version',
  );
  expect(rows[0]!.content).not.toContain('Maud');
});
