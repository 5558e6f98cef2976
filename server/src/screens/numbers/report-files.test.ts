import { parse } from 'csv-parse/sync';
import type { MailReport } from '@kettle/contract';
import readXlsxFile from 'read-excel-file/node';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal } from '../../../testing/people';
import { readPdf } from '../../../testing/read-pdf';
import { askForDailyWork } from '../../features';
import { smtpOut } from '../../processes/mail/index';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let manager: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  manager = await installation.as('manager', 'Corin Vale');
  rep = await installation.as('rep', 'Imogen Thorne');
  await installation.services.database.change("UPDATE session SET expires_at = '2027-12-01'");
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const lose = async (reason: string, amountMinor: number) => {
  const deal = await aDeal(rep, (await aContact(rep)).id, { amountMinor });
  await rep.ok('closeDeal', {
    params: { id: deal.id },
    body: { as: 'lost', version: deal.version, on: '2026-11-20', reason },
  });
};
const file = (as: string, query: object = {}) =>
  rep.call('reportFile', { query: { kind: 'lost', by: 'reason', period: 'this-month', as, ...query } });

describe('a report as a file', () => {
  test('CSV has the rows of the screen as a machine reads them, and what would be a formula is none (RFC 4180)', async () => {
    await lose('=1+1', 100_050);
    await lose('price, too high', 20_000);
    const answer = await file('csv');
    expect(answer.headers['content-disposition']).toBe('attachment; filename="lost.csv"');
    const rows = parse(answer.text, { bom: true, columns: true }) as Record<string, string>[];
    expect(rows.map((row) => [row.row, row.lost, row['value lost (GBP)'], row['lost, before']])).toEqual([
      ["'=1+1", '1', '1000.5', '0'],
      ['price, too high', '1', '200', '0'],
      ['all', '2', '1200.5', '0'],
    ]);
    expect(rows[0]!['won of closed, at most']).toBe('0.7935');
  });

  test('XLSX has typed cells, read by a second package', async () => {
    await lose('=1+1', 100_050);
    const answer = await rep.call('reportFile', {
      query: { kind: 'lost', by: 'reason', period: 'this-month', as: 'xlsx' },
      isFile: true,
    });
    const [sheet] = (await readXlsxFile(answer.body as Buffer)) as unknown as {
      sheet: string;
      data: unknown[][];
    }[];
    const [head, row] = sheet!.data;
    expect(head!.slice(0, 3)).toEqual(['row', 'lost', 'lost, before']);
    expect(row!.slice(0, 3)).toEqual(['=1+1', 1, 0]);
    expect(row![head!.indexOf('value lost (GBP)')]).toBe(1000.5);
  });

  test('PDF is one page in our type, with the question, the period, every row and how it is counted; the same bytes each time', async () => {
    await lose('price', 100_000);
    await lose('Łódź & ž', 20_000);
    const [one, again] = [await file('pdf'), await file('pdf')];
    const { pages, text, fonts } = readPdf(one.body as Buffer);
    expect(pages).toBe(1);
    for (const words of [
      'What do we win and lose?',
      'Imogen Thorne',
      'price',
      'Łódź & ž',
      '£1,200',
      'How it is counted',
    ])
      expect(text).toContain(words);
    expect(fonts.length).toBeGreaterThan(0);
    expect(fonts.every((font) => /^[A-Z]{6}\+HankenGrotesk/.test(font))).toBe(true);
    expect(Buffer.from(one.body as Buffer).equals(Buffer.from(again.body as Buffer))).toBe(true);
  });

  test('with many rows it stays one page and says how many are left out', async () => {
    for (let n = 0; n < 30; n += 1) await lose(`reason ${n}`, 1000);
    const { pages, text } = readPdf((await file('pdf')).body as Buffer);
    expect(pages).toBe(1);
    expect(text).toContain('12 more rows are in the file of the table');
  });

  test('every report can be a page', async () => {
    await lose('price', 100_000);
    for (const kind of [
      'make-it',
      'standstill',
      'pace',
      'movement',
      'sources',
      'close-days',
      'answers',
      'activity',
      'drop-off',
      'retention',
      'standings',
    ]) {
      const { pages } = readPdf(
        (await rep.call('reportFile', { query: { kind, period: 'this-quarter', as: 'pdf' } })).body as Buffer,
      );
      expect([kind, pages]).toEqual([kind, 1]);
    }
  });

  test('whoever may not export gets none', async () => {
    const admin = await installation.as('admin', 'Petra Lindholm');
    const settings = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...settings, exports: 'manager' } });
    expect((await file('csv')).status).toBe(403);
  });
});

describe('a report by mail', () => {
  const body = (part: object = {}): MailReport =>
    ({
      report: { kind: 'lost', by: 'reason', period: 'this-month', whose: 'mine' },
      ...{ name: 'Losses', to: [manager.id], when: 'now', ...part },
    }) as MailReport;

  test('now: once to each, with the page beside it, and a link to the same report', async () => {
    await lose('price', 100_000);
    await rep.ok('mailReport', { body: body({ to: [manager.id, rep.id] }) });
    await Promise.all([installation.work(), installation.workElsewhere()]);
    await installation.work();
    expect(server.got.map(({ subject }) => subject)).toEqual([
      'Losses: What do we win and lose?',
      'Losses: What do we win and lose?',
    ]);
    const [mail] = server.got;
    expect(mail!.text).toContain('Imogen Thorne sends you a report.');
    expect(mail!.text).toContain('price: lost 1 (0), value lost £1,000 (£0)');
    expect(mail!.text).toMatch(/\/numbers\?.*part=lost/);
    expect(mail!.attachments[0]).toMatchObject({ contentType: 'application/pdf', filename: 'lost.pdf' });
    expect(readPdf(mail!.attachments[0]!.content).text).toContain('price');
  });

  test('each Monday at seven of whoever set it up, until it is removed; and undone', async () => {
    const { mailing } = await rep.ok('mailReport', { body: body({ when: 'mondays' }) });
    expect(mailing).toMatchObject({
      name: 'Losses',
      words: 'What do we win and lose? · this month',
      to: [{ id: manager.id }],
    });
    const day = async (at: string) => {
      installation.clock.set(at);
      await askForDailyWork(installation.services);
      await installation.work();
      await installation.work();
      return server.got.length;
    };
    expect(await day('2026-11-27T09:00:00.000Z')).toBe(0);
    expect(await day('2026-11-30T06:30:00.000Z')).toBe(0);
    expect(await day('2026-11-30T07:30:00.000Z')).toBe(1);
    expect(await day('2026-11-30T09:30:00.000Z')).toBe(1);
    expect(await day('2026-12-07T07:30:00.000Z')).toBe(2);
    const changeId = '01938f6c-0000-7000-8000-00000000aaaa';
    await rep.ok('removeReportMailing', { params: { id: mailing!.id }, changeId });
    expect(await day('2026-12-14T07:30:00.000Z')).toBe(2);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await rep.ok('listReportMailings')).mailings).toHaveLength(1);
    expect(await day('2026-12-21T07:30:00.000Z')).toBe(3);
  });

  test('only to those who may read what it is of: the others are named, and left out once they may no longer', async () => {
    const admin = await installation.as('admin', 'Petra Lindholm');
    const other = await installation.as('rep', 'Owen Marsh');
    await rep.ok('mailReport', { body: body({ to: [other.id, manager.id], when: 'mondays' }) });
    const settings = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...settings, reading: 'own' } });
    const { people } = await rep.ok('reportReaders', { query: body().report });
    expect(people.map(({ name }) => name)).not.toContain('Owen Marsh');
    expect(people.map(({ name }) => name)).toContain('Imogen Thorne');
    const refused = await rep.call('mailReport', { body: body({ to: [other.id] }) });
    expect(refused.body.fields).toEqual([
      { path: 'to', message: 'names Owen Marsh, who may not read all it is of' },
    ]);
    installation.clock.set('2026-11-30T07:30:00.000Z');
    await askForDailyWork(installation.services);
    await installation.work();
    await installation.work();
    expect(server.got.map(({ to }) => String(to)).join()).not.toContain('owen');
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications.map(({ words }) => words).join()).toContain('was not sent to');
  });

  test('nobody removes another’s; without a mail server it is said', async () => {
    const { mailing } = await rep.ok('mailReport', { body: body({ when: 'mondays' }) });
    expect((await manager.call('removeReportMailing', { params: { id: mailing!.id } })).status).toBe(404);
    const silent = await install();
    const who = await silent.as('rep', 'Imogen Thorne');
    const refused = await who.call('mailReport', { body: { ...body(), to: [who.id] } });
    expect(refused.body.code).toBe('not-set-up');
    await silent.close();
  });
});
