import type { ContactId, MailDraft, MailId } from '@kettle/contract';
import { bareSubject } from '@kettle/core/mail';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readRun } from '../cadences/index';
import { keepPoint } from '../../records/contacts/index';
import { type SignedIn } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { changeSetting } from '../../records/settings/index';
import { fillFor, listTemplates } from '../templates/index';
import { afterSent } from './after-sending';
import { followMail } from './follow-mail';
import { listMail, readMail, readMailRow } from './mail-rows';
import { askToSend } from '../../activity/outbox/index';
import { sendMailByHand } from './send-by-hand';
import { readOut } from './send-mail';
import { variantOf } from '@kettle/core/cadences';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'listMail'
  | 'draftMail'
  | 'sendMail'
  | 'getMail'
  | 'fileMail'
  | 'letMailGo'
  | 'unfileMail'
  | 'decideHeld'
  | 'mailSettings'
  | 'changeMailSettings';

export function mailRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings } = services;

  /** Takes a mail that came in from one state to another, over the version it was seen at. */
  const move = async (
    who: SignedIn,
    call: { id: string; version: number },
    states: { from: readonly string[]; to: string },
    then: (w: PersonWork) => Promise<void> = async () => undefined,
  ) => {
    await work(services, who, async (w) => {
      const current = await readMailRow(w, who, call.id);
      if (current.version !== call.version) throw new Problem('stale', {}, { current });
      if (!states.from.includes(current.state)) throw new Problem('not-so-now', { state: current.state });
      await w.change(
        'UPDATE mail SET state = :to, version = version + 1 WHERE id = :id AND version = :version',
        {
          id: bytesOf(call.id),
          to: states.to,
          version: call.version,
        },
      );
      await then(w);
      w.say(`Mail “${current.subject}”: ${states.to}`);
    });
    return readMailRow(database, who, call.id);
  };

  return {
    listMail: ({ query, who }) => listMail(database, who, query),
    getMail: ({ params, who }) => readMail(database, who, params.id),
    draftMail: (call) => draft(services, call),
    sendMail: ({ body, who }) => sendMailByHand(services, who, body),
    fileMail: ({ params, body, who }) =>
      move(who, { id: params.id, version: body.version }, { from: ['unfiled', 'let-go'], to: 'filed' }, (w) =>
        fileByHand(w, params.id, body),
      ),
    letMailGo: ({ params, body, who }) =>
      move(who, { id: params.id, version: body.version }, { from: ['unfiled'], to: 'let-go' }),
    unfileMail: ({ params, body, who }) =>
      move(who, { id: params.id, version: body.version }, { from: ['let-go'], to: 'unfiled' }),
    decideHeld: ({ params, body, who }) => decide(services, who, params.id, body),
    mailSettings: async () => (await settings.read(database)).mail,
    changeMailSettings: ({ body, who }) => changeSetting(services, who, { name: 'mail', body }),
  };
}

async function fileByHand(
  w: PersonWork,
  mailId: MailId,
  filing: { contactId: ContactId; dealId: string | null; keepAddress: boolean },
): Promise<void> {
  const [person] = await w.rows<Row<'contact', 'owner_id'>>(
    'SELECT owner_id FROM contact WHERE id = :id FOR UPDATE',
    { id: bytesOf(filing.contactId) },
  );
  if (!person) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(person.owner_id));
  const [mail] = await w.rows<Row<'mail', 'subject' | 'text' | 'from_address' | 'kind'>>(
    'SELECT subject, text, from_address, kind FROM mail WHERE id = :id',
    { id: bytesOf(mailId) },
  );
  await w.change('UPDATE mail SET contact_id = :contact, deal_id = :deal WHERE id = :id', {
    id: bytesOf(mailId),
    contact: bytesOf(filing.contactId),
    deal: bytesOf(filing.dealId),
  });
  if (filing.keepAddress) await keepPoint(w, filing.contactId, 'email', mail!.from_address);
  await followMail(w, {
    mailId,
    contactId: filing.contactId,
    dealId: filing.dealId,
    subject: mail!.subject,
    words: mail!.text,
    // Returns find their mail by themselves.
    kind: { kind: mail!.kind === null || mail!.kind === 'bounce' ? 'human' : mail!.kind },
    parent: null,
    byUserId: w.who.id,
  });
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
    if (as === 'arrived') return afterSent(w, row, `${who.name} says it arrived`);
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
  if (address === null) return isMail ? 'No address is known' : 'No number is known';
  if (is_dead === 0) return null;
  return isMail ? 'Mail to this address came back' : 'Texts to this number came back';
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
