import type { AskReport, MailReport, ReportMailing, ReportMailingId, UserId } from '@kettle/contract';
import { askReport } from '@kettle/contract';
import { reportLabel, reportPeriodLabel } from '@kettle/contract/numbers/labels';
import { isoWeekday, localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import { enqueue, type NewJob } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { saidNow } from '../../platform/language/language';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work, type PersonWork, type Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readSignedIn, type SignedIn } from '../../records/users/index';
import { mailReportKind } from './mail-report';
import { ownersOf } from './scope';

export const mondayKind = 'monday-report';
/** Before the week begins for whoever set it up. */
const mondayMinute = 7 * 60;

type MailingRow = Row<'report_mailing', 'id' | 'user_id' | 'name' | 'asked'>;

/** The owners that a report is of, whoever it is sent to; null for everything the reader may read. */
type Owners = readonly UserId[] | null;

/** Colleagues who may read everything a report is of. */
export async function readReaders(
  services: Services,
  who: SignedIn,
  asked: AskReport,
): Promise<{ people: { id: UserId; name: string }[] }> {
  const { database: db } = services;
  const owners = await ownersOf(db, who, asked.whose);
  const users = await db.rows<Row<'app_user', 'id' | 'name'>>(
    'SELECT id, name FROM app_user WHERE deactivated_at IS NULL ORDER BY name, id',
  );
  const people = await Promise.all(
    users.map(async ({ id, name }) => {
      const reader = await readSignedIn(db, idOf(id), services.clock.now());
      return mayRead(reader, owners) ? [{ id: idOf<UserId>(id), name }] : [];
    }),
  );
  return { people: people.flat() };
}

/** Whether somebody may read the records of these people; of everything they are shown what is theirs to read. */
function mayRead({ id, reach }: SignedIn, owners: Owners): boolean {
  const { reads } = reach;
  return (
    owners === null || reads === 'everybody' || owners.every((owner) => owner === id || reads.has(owner))
  );
}

/** @throws Problem `invalid-request` naming whoever may not read it, at `to` */
async function assertReaders(services: Services, who: SignedIn, { report, to }: MailReport): Promise<void> {
  const { people } = await readReaders(services, who, report);
  const may = new Set<string>(people.map(({ id }) => id));
  const others = to.filter((id) => !may.has(id));
  if (others.length === 0) return;
  const names = await services.database.rows<Row<'app_user', 'name'>>(
    'SELECT name FROM app_user WHERE id IN (:ids) ORDER BY name, id',
    { ids: others.map((id) => bytesOf(id)) },
  );
  const said =
    names.length === 0 ? $localize`somebody who is not here` : names.map(({ name }) => name).join(', ');
  throw new Problem(
    'invalid-request',
    {},
    { fields: [{ path: 'to', message: $localize`names ${said}:names:, who may not read all it is of` }] },
  );
}

/**
 * Sends a report to colleagues at once, or each Monday: to each as they may read it.
 * @throws Problem `not-set-up` without a mail server, `invalid-request` for whoever may not read it
 */
export async function mailReport(
  services: Services,
  who: SignedIn,
  asked: MailReport,
): Promise<{ mailing: ReportMailing | null }> {
  if (services.channels.mailOut === null) throw new Problem('not-set-up', { what: $localize`mail server` });
  await assertReaders(services, who, asked);
  const owners = await ownersOf(services.database, who, asked.report.whose);
  const made = await work(services, who, async (w) => {
    const { name } = asked;
    if (asked.when === 'mondays') {
      w.say($localize`“${name}:name:” is sent each Monday`);
      return addMailing(w, asked);
    }
    await askToMail(
      w,
      { key: w.id, on: localDate(w.now, who.zone), dueAt: w.now },
      { ...asked, userId: who.id, owners },
    );
    w.say($localize`“${name}:name:” sent`);
    return null;
  });
  if (made === null) return { mailing: null };
  const { mailings } = await readMailings(services, who);
  return { mailing: mailings.find(({ id }) => id === made) ?? null };
}

async function addMailing(w: PersonWork, { report, name, to }: MailReport): Promise<ReportMailingId> {
  const id = newId<ReportMailingId>();
  await w.change(
    'INSERT INTO report_mailing (id, user_id, name, asked, created_at) VALUES (:id, :me, :name, :asked, :now)',
    { id: bytesOf(id), me: bytesOf(w.who.id), name, asked: JSON.stringify(report), now: sqlInstant(w.now) },
  );
  await w.change('INSERT INTO report_mailing_to (mailing_id, user_id) VALUES :rows', {
    rows: [...new Set(to)].map((userId) => [bytesOf(id), bytesOf(userId)]),
  });
  return id;
}

const askedOf = (row: Pick<MailingRow, 'asked'>): AskReport => askReport.parse(jsonOf(row.asked));

export async function readMailings(
  services: Services,
  who: SignedIn,
): Promise<{ mailings: ReportMailing[] }> {
  const { database: db } = services;
  const rows = await db.rows<MailingRow>(
    'SELECT id, user_id, name, asked FROM report_mailing WHERE user_id = :me ORDER BY name, id',
    { me: bytesOf(who.id) },
  );
  const people = await readRecipients(
    db,
    rows.map(({ id }) => id),
  );
  return {
    mailings: rows.map((row) => {
      const { kind, period } = askedOf(row);
      return {
        ...{ id: idOf(row.id), name: row.name, to: people.get(idOf(row.id)) ?? [] },
        words: `${saidNow(reportLabel[kind])} · ${saidNow(reportPeriodLabel[period])}`,
      };
    }),
  };
}

async function readRecipients(
  db: Queryable,
  ids: readonly IdBytes<ReportMailingId>[],
): Promise<ReadonlyMap<ReportMailingId, { id: UserId; name: string }[]>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<Row<'report_mailing_to', 'mailing_id' | 'user_id'> & { name: string }>(
    `SELECT t.mailing_id, t.user_id, u.name FROM report_mailing_to t JOIN app_user u ON u.id = t.user_id
      WHERE t.mailing_id IN (:ids) AND u.deactivated_at IS NULL ORDER BY u.name, u.id`,
    { ids: [...ids] },
  );
  const found = new Map<ReportMailingId, { id: UserId; name: string }[]>();
  for (const row of rows) {
    const id = idOf<ReportMailingId>(row.mailing_id);
    found.set(id, [...(found.get(id) ?? []), { id: idOf(row.user_id), name: row.name }]);
  }
  return found;
}

/** @throws Problem `not-found` for one that is not one's own, or is gone */
export async function removeMailing(services: Services, who: SignedIn, id: ReportMailingId): Promise<void> {
  await work(services, who, async (w) => {
    const [row] = await w.rows<MailingRow>(
      'SELECT id, user_id, name, asked FROM report_mailing WHERE id = :id AND user_id = :me FOR UPDATE',
      { id: bytesOf(id), me: bytesOf(who.id) },
    );
    if (row === undefined) throw new Problem('not-found');
    await w.change('DELETE FROM report_mailing_to WHERE mailing_id = :id', { id: row.id });
    await w.change('DELETE FROM report_mailing WHERE id = :id', { id: row.id });
    w.say($localize`“${row.name}:name:” is no longer sent`);
  });
}

interface ToSend {
  readonly userId: UserId;
  readonly report: AskReport;
  readonly owners: Owners;
  readonly name: string;
  readonly to: readonly UserId[];
}

/** One mail for each, so that each is sent once however often one of them is tried. */
async function askToMail(
  w: Work,
  { key, on, dueAt }: { readonly key: string; readonly on: string; readonly dueAt: string },
  { userId, report, owners, name, to }: ToSend,
): Promise<void> {
  for (const reader of new Set(to))
    await enqueue(w, {
      kind: mailReportKind,
      dedupeKey: `${mailReportKind}:${key}:${reader}:${on}`,
      payload: {
        key: `report-${key}-${reader}-${on}`,
        readerId: reader,
        authorId: userId,
        report,
        owners,
        name,
      },
      dueAt,
    });
}

/** The mailings of a Monday, each at seven on the clock of whoever set it up. */
export async function mondayMailings({ database }: Services, now: string): Promise<NewJob[]> {
  const rows = await database.rows<MailingRow & Row<'app_user', 'zone'>>(
    `SELECT m.id, m.user_id, m.name, m.asked, u.zone FROM report_mailing m JOIN app_user u ON u.id = m.user_id
      WHERE u.deactivated_at IS NULL ORDER BY m.id`,
  );
  return rows.flatMap((row) => {
    const on = localDate(now, row.zone);
    if (isoWeekday(on) !== 1) return [];
    const id = idOf<string>(row.id);
    return [
      {
        ...{ kind: mondayKind, dedupeKey: `${mondayKind}:${id}:${on}`, payload: { id, on } },
        dueAt: localMoment(on, mondayMinute, row.zone),
      },
    ];
  });
}

/** Asks for the mails of one mailing; whoever may no longer read what it is of gets none, and its author is told. */
export const mondayJob: JobKind = {
  words: $localize`sending a report of the week`,
  effect: 'database',
  run: async (w, payload) => {
    const { id, on } = z.object({ id: z.uuid(), on: z.string() }).parse(payload);
    const [row] = await w.rows<MailingRow>(
      'SELECT id, user_id, name, asked FROM report_mailing WHERE id = :id',
      { id: bytesOf(id) },
    );
    if (row === undefined) return;
    const author = await readSignedIn(w, idOf(row.user_id), w.now);
    const report = askedOf(row);
    const owners = await ownersOf(w, author, report.whose).catch(() => [] as UserId[]);
    const people = (await readRecipients(w, [row.id])).get(idOf(row.id)) ?? [];
    const readers = await Promise.all(
      people.map(async (each) => ({ ...each, may: mayRead(await readSignedIn(w, each.id, w.now), owners) })),
    );
    const others = readers.filter(({ may }) => !may).map(({ name }) => name);
    if (others.length > 0)
      await notify(
        w,
        'trouble',
        [author.id],
        $localize`“${row.name}:name:” was not sent to ${others.join(', ')}:names:, who may no longer read all it is of.`,
        '/numbers',
      );
    const to = readers.filter(({ may }) => may).map(({ id: reader }) => reader);
    await askToMail(
      w,
      { key: id, on, dueAt: w.now },
      { userId: author.id, report, owners, name: row.name, to },
    );
  },
};
