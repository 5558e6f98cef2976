import type { MailDraft, MailId } from '@kettle/contract';
import { bareSubject } from '@kettle/core/mail';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readRun } from '../cadences/index';
import { type SignedIn } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { changeSetting } from '../../records/settings/index';
import { fillFor, listTemplates } from '../templates/index';
import { afterSent } from './after-sending';
import { listRoutes } from '../../records/grid/index';
import { countBoxes, mailList } from './list-mail';
import { addMailFile, sendMailFile } from './mail-files';
import { readMail, readMailRow } from './mail-rows';
import { answerReceived } from './received-invitations';
import { type Filing, moveOne, moveSeveral, putWithDeal } from './move-mail';
import { askToSend } from '../../activity/outbox/index';
import { sendMailByHand } from './send-by-hand';
import { readOut } from './send-mail';
import { variantOf } from '@kettle/core/cadences';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'listMail'
  | 'countMail'
  | 'exportMail'
  | 'moveMail'
  | 'draftMail'
  | 'sendMail'
  | 'addMailFile'
  | 'mailFile'
  | 'getMail'
  | 'fileMail'
  | 'putMailWithDeal'
  | 'letMailGo'
  | 'unfileMail'
  | 'answerReceived'
  | 'decideHeld'
  | 'mailSettings'
  | 'changeMailSettings';

export function mailRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings } = services;

  const list = listRoutes(services, mailList);
  /** Takes one mail to another box, and answers with it as it is then. */
  const move = async (
    who: SignedIn,
    mail: { id: MailId; version: number },
    to: 'filed' | 'let-go' | 'unfiled',
    filing?: Filing,
  ) => {
    await work(services, who, (w) => moveOne(w, mail, to, filing));
    return readMailRow(database, who, mail.id);
  };

  return {
    listMail: list.page,
    countMail: async ({ query, who }) => ({
      ...(await list.count({ query, who })),
      counts: await countBoxes(database, who),
    }),
    exportMail: list.export,
    moveMail: ({ body, who }) => work(services, who, (w) => moveSeveral(w, body)),
    addMailFile: ({ who, request }) => addMailFile(services, who, request),
    mailFile: ({ params, who, response }) => sendMailFile(services, who, params.id, response),
    getMail: ({ params, who }) => readMail(database, who, params.id),
    draftMail: (call) => draft(services, call),
    sendMail: ({ body, who }) => sendMailByHand(services, who, body),
    fileMail: ({ params: { id }, body: { version, ...filing }, who }) =>
      move(who, { id, version }, 'filed', filing),
    putMailWithDeal: async ({ params: { id }, body, who }) => {
      await work(services, who, (w) => putWithDeal(w, { id, ...body }));
      return readMailRow(database, who, id);
    },
    letMailGo: ({ params: { id }, body: { version }, who }) => move(who, { id, version }, 'let-go'),
    unfileMail: ({ params: { id }, body: { version }, who }) => move(who, { id, version }, 'unfiled'),
    answerReceived: async ({ params, body, who }) => {
      await work(services, who, (w) => answerReceived(w, params.id, body));
      return readMail(database, who, params.id);
    },
    decideHeld: ({ params, body, who }) => decide(services, who, params.id, body),
    mailSettings: async () => (await settings.read(database)).mail,
    changeMailSettings: ({ body, who }) => changeSetting(services, who, { name: 'mail', body }),
  };
}

/** A person says what nobody could know: it arrived, or it is to be sent again. */
async function decide(
  services: Services,
  who: SignedIn,
  mailId: string,
  { version, as }: { version: number; as: 'arrived' | 'send-again' },
) {
  const { database, clock } = services;
  await work(services, who, async (w) => {
    const current = await readMailRow(w, who, mailId);
    const row = await readOut(w, mailId);
    if (!row || current.state !== 'held') throw new Problem('not-so-now', { state: current.state });
    if (current.version !== version) throw new Problem('stale', {}, { current });
    await assertMayChange(w, who, idOf(row.user_id));
    if (as === 'arrived') return afterSent(w, row, $localize`${who.name}:name: says it arrived`);
    await w.change(
      "UPDATE mail SET state = 'waiting', due_at = :now, version = version + 1 WHERE id = :id AND state = 'held'",
      { id: row.id, now: sqlInstant(clock.now()) },
    );
    await askToSend(w, mailId, row.attempts, clock.now());
  });
  return readMailRow(database, who, mailId);
}

/** What a new mail begins with: the step's template, filled, or the subject of the thread. */
async function draft(services: Services, { query, who }: Call<'draftMail'>): Promise<MailDraft> {
  const { database } = services;
  const { channel } = query;
  const [person] = await database.rows<Reachable>(
    `SELECT IF(:channel = 'email', c.email, c.phone) AS address,
            IF(:channel = 'email', c.email_unusable, c.phone_unusable) AS is_dead, n.origin AS marked
       FROM contact c LEFT JOIN do_not_contact n ON n.contact_id = c.id AND n.channel = :channel WHERE c.id = :id`,
    { id: bytesOf(query.contactId), channel },
  );
  if (!person) throw new Problem('not-found');
  const templates = (await listTemplates(database)).filter(
    (each) => each.channel === channel && !each.isRetired,
  );
  const wanted = query.templateId ?? (await templateOfTask(database, query.taskId));
  const template = templates.find(({ id }) => id === wanted) ?? null;
  const answered = await subjectOfThread(database, query.contactId, query.answers);
  const filled =
    template === null
      ? null
      : await fillFor(database, services, template, {
          contactId: query.contactId,
          dealId: query.dealId ?? null,
          sender: who,
        });
  return {
    to: person.address,
    blocked: whyBlocked(person, channel),
    templateId: template?.id ?? null,
    subject: filled?.subject ?? (answered ? `Re: ${bareSubject(answered)}` : ''),
    body: filled?.body ?? '',
    missing: filled ? [...filled.missing, ...filled.wrong] : [],
    templates: templates.map(({ id, name }) => ({ id, name })),
    answers: query.answers ?? null,
  };
}

interface Reachable {
  readonly address: string | null;
  readonly is_dead: number;
  readonly marked: string | null;
}

function whyBlocked({ address, is_dead, marked }: Reachable, channel: 'email' | 'text'): string | null {
  const isMail = channel === 'email';
  if (marked !== null) return `No ${isMail ? 'e-mail' : 'text'}: ${marked}`;
  if (address === null) return isMail ? $localize`No address is known` : $localize`No number is known`;
  if (is_dead === 0) return null;
  return isMail ? $localize`Mail to this address came back` : $localize`Texts to this number came back`;
}

async function templateOfTask(db: Queryable, taskId: string | undefined): Promise<string | null> {
  if (taskId === undefined) return null;
  const [task] = await db.rows<Row<'task', 'run_id' | 'run_step'>>(
    'SELECT run_id, run_step FROM task WHERE id = :id',
    { id: bytesOf(taskId) },
  );
  const stored = task?.run_id ? await readRun(db, idOf(task.run_id)) : undefined;
  if (!stored || task?.run_step === null || task?.run_step === undefined) return null;
  return variantOf(stored.definition.steps[task.run_step]?.templateIds ?? [], stored.id, task.run_step);
}

async function subjectOfThread(
  db: Queryable,
  contactId: string,
  mailId: string | undefined,
): Promise<string | null> {
  if (mailId === undefined) return null;
  const [row] = await db.rows<Row<'mail', 'subject'>>(
    'SELECT subject FROM mail WHERE id = :id AND contact_id = :contact',
    { id: bytesOf(mailId), contact: bytesOf(contactId) },
  );
  return row?.subject ?? null;
}
