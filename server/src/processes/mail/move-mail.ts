import type { ContactId, MailId, MailRow, MoveMail, movedMail } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import type * as z from 'zod';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { onlyDeal } from '../deals/index';
import { keepPoint } from '../../records/contacts/index';
import { assertMayChange } from '../../records/rights/index';
import { followMail } from './follow-mail';
import { readMailRow, readMailRows } from './mail-rows';

type Target = MoveMail['to'];

/** From where a mail that came in is taken. */
const from: Readonly<Record<Target, readonly MailRow['state'][]>> = {
  filed: ['unfiled', 'let-go'],
  'let-go': ['unfiled'],
  unfiled: ['let-go'],
};

const saidAs: Readonly<Record<Target, string>> = {
  filed: 'filed',
  'let-go': 'dismissed',
  unfiled: $localize`back among those to file`,
};

export interface Filing {
  readonly contactId: ContactId;
  /** Left out, their open deal when they have just one. */
  readonly dealId?: string | null | undefined;
  readonly keepAddress: boolean;
}

/**
 * Takes a mail that came in from one box to another, over the version it was seen at.
 * @throws Problem `not-found`, `stale`, `not-so-now`
 */
export async function moveOne(
  w: PersonWork,
  { id, version }: { readonly id: MailId; readonly version: number },
  to: Target,
  filing?: Filing,
): Promise<void> {
  const current = await readMailRow(w, w.who, id);
  if (current.version !== version) throw new Problem('stale', {}, { current });
  if (!from[to].includes(current.state)) throw new Problem('not-so-now', { state: current.state });
  await take(w, current, to, filing);
  w.say($localize`Mail “${current.subject}:subject:” ${saidAs[to]}:saidAs:`);
}

/**
 * The same for several in one change, which is undone as one. What is not where it can be taken from stays.
 * @throws Problem `not-found` when one of them is not the caller's to read
 */
export async function moveSeveral(w: PersonWork, asked: MoveMail): Promise<z.output<typeof movedMail>> {
  const ids = [...new Set(asked.ids)].sort();
  const rows = await readMailRows(
    w,
    w.who,
    ids.map((id) => bytesOf(id)),
  );
  if (rows.length < ids.length) throw new Problem('not-found');
  const fitting = rows.filter(({ state }) => from[asked.to].includes(state));
  for (const row of fitting) {
    // An address whose domain says that it is not theirs is not kept with them.
    const keepAddress = row.proof !== 'contradicted';
    const filing = asked.to === 'filed' ? { contactId: asked.contactId, keepAddress } : undefined;
    await take(w, row, asked.to, filing);
  }
  w.say(`${sayCount(fitting.length, 'mail|mails')} ${saidAs[asked.to]}`);
  return { moved: fitting.length, left: ids.length - fitting.length };
}

async function take(w: PersonWork, row: MailRow, to: Target, filing: Filing | undefined): Promise<void> {
  const changed = await w.change(
    'UPDATE mail SET state = :to, version = version + 1 WHERE id = :id AND version = :version',
    { id: bytesOf(row.id), to, version: row.version },
  );
  if (changed === 0) throw new Problem('stale', {}, { current: await readMailRow(w, w.who, row.id) });
  if (filing !== undefined) await fileByHand(w, row.id, filing);
}

async function fileByHand(w: PersonWork, mailId: MailId, filing: Filing): Promise<void> {
  const [person] = await w.rows<Row<'contact', 'owner_id'>>(
    'SELECT owner_id FROM contact WHERE id = :id FOR UPDATE',
    { id: bytesOf(filing.contactId) },
  );
  if (!person) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(person.owner_id));
  const dealId = filing.dealId === undefined ? await onlyDeal(w, filing.contactId) : filing.dealId;
  await assertTheirs(w, filing.contactId, dealId);
  const [mail] = await w.rows<Row<'mail', 'subject' | 'text' | 'from_address' | 'kind' | 'at'>>(
    'SELECT subject, text, from_address, kind, at FROM mail WHERE id = :id',
    { id: bytesOf(mailId) },
  );
  await w.change('UPDATE mail SET contact_id = :contact, deal_id = :deal WHERE id = :id', {
    id: bytesOf(mailId),
    contact: bytesOf(filing.contactId),
    deal: bytesOf(dealId),
  });
  if (filing.keepAddress) await keepPoint(w, filing.contactId, 'email', mail!.from_address);
  await followMail(w, {
    mailId,
    contactId: filing.contactId,
    dealId,
    subject: mail!.subject,
    words: mail!.text,
    at: instantOf(mail!.at),
    // Returns find their mail by themselves.
    kind: { kind: mail!.kind === null || mail!.kind === 'bounce' ? 'human' : mail!.kind },
    parent: null,
    byUserId: w.who.id,
  });
}

/**
 * Says which deal of its person a filed mail belongs to, with what stands of it in the journal.
 * @throws Problem `not-found`, `stale`, `not-so-now`, `not-yours`
 */
export async function putWithDeal(
  w: PersonWork,
  { id, version, dealId }: { readonly id: MailId; readonly version: number; readonly dealId: string | null },
): Promise<void> {
  const current = await readMailRow(w, w.who, id);
  if (current.version !== version) throw new Problem('stale', {}, { current });
  if (current.state !== 'filed' || current.contactId === null)
    throw new Problem('not-so-now', { state: current.state });
  const [person] = await w.rows<Row<'contact', 'owner_id'>>('SELECT owner_id FROM contact WHERE id = :id', {
    id: bytesOf(current.contactId),
  });
  await assertMayChange(w, w.who, idOrNull(person?.owner_id ?? null));
  await assertTheirs(w, current.contactId, dealId);
  const deal = bytesOf(dealId);
  await w.change('UPDATE mail SET deal_id = :deal, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
    deal,
  });
  await w.change(
    'UPDATE journal_entry SET deal_id = :deal WHERE id = (SELECT entry_id FROM mail WHERE id = :id)',
    { id: bytesOf(id), deal },
  );
  const [named] = await w.rows<Row<'deal', 'name'>>('SELECT name FROM deal WHERE id = :deal', { deal });
  w.say(
    named
      ? $localize`Mail “${current.subject}:subject:” put with ${named.name}:deal:`
      : $localize`Mail “${current.subject}:subject:” put with no deal`,
  );
}

/** @throws Problem `invalid-request` for a deal that is with somebody else */
async function assertTheirs(w: PersonWork, contactId: string, dealId: string | null): Promise<void> {
  if (dealId === null) return;
  const rows = await w.rows(
    `SELECT 1 FROM deal d WHERE d.id = :deal AND (d.contact_id = :contact
        OR d.company_id = (SELECT company_id FROM contact WHERE id = :contact))`,
    { deal: bytesOf(dealId), contact: bytesOf(contactId) },
  );
  if (rows.length > 0) return;
  const message = $localize`must be a deal of this person or of their company`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'dealId', message }] });
}
