import { askReport, userId, type Report } from '@kettle/contract';
import { reportAddress, sayFigure } from '@kettle/core/numbers';
import * as z from 'zod';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { sendNotice } from '../../activity/outbox/index';
import { todayOf, readPerson, readSignedIn } from '../../records/users/index';
import { readReport } from './report';
import { fileOf } from './report-file';
import { sayPeriod } from './say-period';

export const mailReportKind = 'mail-report';

const payloadOf = z.object({
  key: z.string(),
  readerId: userId,
  authorId: userId,
  report: askReport,
  owners: z.array(userId).nullable(),
  name: z.string(),
});

const mostRows = 15;

/** Sends a report to one colleague, as they may read it: its first rows in the text, the page as PDF. */
export const mailReportJob = (services: Services): JobKind => ({
  words: $localize`sending a report`,
  effect: 'guarded',
  run: async (payload) => {
    const { key, readerId, authorId, report: asked, owners, name } = payloadOf.parse(payload);
    const { database: db, channels, clock, settings } = services;
    if (channels.mailOut === null) return;
    const [reader, author, { organisation }] = await Promise.all([
      readSignedIn(db, readerId, clock.now()),
      readPerson(db, authorId),
      settings.read(db),
    ]);
    const report = await readReport(services, reader, asked, owners);
    const sent = await sendNotice(services, {
      to: reader.email,
      subject: `${name}: ${report.words}`,
      text: [
        $localize`${author.name}:author: sends you a report.`,
        '',
        textOf(report, { currency: organisation.currency, today: todayOf(services, reader) }),
        '',
        `${channels.publicOrigin}/numbers?${reportAddress(asked)}`,
        '',
      ].join('\n'),
      key,
      attachments: [
        {
          ...{ filename: `${report.kind}.pdf`, contentType: 'application/pdf' },
          content: await fileOf(services, report, 'pdf'),
        },
      ],
    });
    if (!sent) throw new Error('the mail did not leave');
  },
});

/** A report in plain lines. */
function textOf(
  report: Report,
  { currency, today }: { readonly currency: string; readonly today: string },
): string {
  const { words, scope, columns, rows, total, figures } = report;
  const lines = [...rows.slice(0, mostRows), ...(total === null ? [] : [total])].map((line) => {
    const said = columns.map(({ words: column, type }, at) => {
      const before = line.before?.[at];
      const then =
        before === undefined || before.value === null ? '' : ` (${sayFigure(before, type, currency)})`;
      return `${column} ${sayFigure(line.figures[at]!, type, currency)}${then}`;
    });
    return `${line.name}: ${said.join(', ')}`;
  });
  return [
    words,
    `${scope} · ${sayPeriod(report, today)}`,
    '',
    ...figures.map(({ words: what, type, figure }) => `${what}: ${sayFigure(figure, type, currency)}`),
    ...(lines.length === 0 ? [$localize`Nothing in it yet.`] : lines),
    ...(rows.length > mostRows ? [$localize`… and ${rows.length - mostRows}:count: more`] : []),
  ].join('\n');
}
