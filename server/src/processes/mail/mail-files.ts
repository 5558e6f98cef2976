import type { Request, Response } from 'express';
import { Problem } from '../../platform/problem';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { messageBytes, type OutgoingMail } from './mail-out';
import { readMailRow } from './mail-rows';
import { outgoing, readOut } from './send-mail';
import { storeArrival } from './store-arrival';

const mostBytes = 25 * 1024 * 1024;

/**
 * Sends a mail as a file (RFC 5322): what came in byte for byte, what went out as it was written, without what tells of its being read.
 * @throws Problem `not-found`, also for a mail that the reader may not see
 */
export async function sendMailFile(
  services: Services,
  who: SignedIn,
  id: string,
  response: Response,
): Promise<'answered'> {
  const { subject } = await readMailRow(services.database, who, id);
  const bytes = (await arrivedBytes(services, id)) ?? (await writtenBytes(services, id));
  response
    .set(
      'Content-Disposition',
      `attachment; filename="mail.eml"; filename*=UTF-8''${encodeURIComponent(fileNameOf(subject))}`,
    )
    .set('Cache-Control', 'no-store')
    .type('message/rfc822')
    .send(bytes);
  return 'answered';
}

/** @example fileNameOf('Re: a/b') is 'Re a b.eml' */
export const fileNameOf = (subject: string): string =>
  `${
    subject
      .replace(/[^\p{L}\p{N}\p{M} ._-]+/gu, ' ')
      .replace(/\s+/g, ' ')
      .replace(/^[. ]+/, '')
      .trim()
      .slice(0, 80) || 'mail'
  }.eml`;

async function arrivedBytes({ database }: Services, id: string): Promise<Buffer | null> {
  const [row] = await database.rows<Row<'mail_arrival', 'content'>>(
    'SELECT a.content FROM mail m JOIN mail_arrival a ON a.id = m.arrival_id WHERE m.id = :id',
    { id: bytesOf(id) },
  );
  return row?.content ?? null;
}

async function writtenBytes(services: Services, id: string): Promise<Buffer> {
  const row = await readOut(services.database, id);
  return messageBytes(
    row === undefined ? await rebuilt(services, id) : await outgoing(services, row, { isCopy: true }),
  );
}

type ReadColumns = Row<
  'mail',
  | 'message_id'
  | 'in_reply_to'
  | 'reference_ids'
  | 'from_name'
  | 'from_address'
  | 'to_address'
  | 'subject'
  | 'text'
  | 'html'
  | 'at'
>;

/** One whose bytes are no longer kept, from what was read of it. */
async function rebuilt({ database }: Services, id: string): Promise<OutgoingMail> {
  const [row] = await database.rows<ReadColumns>(
    `SELECT message_id, in_reply_to, reference_ids, from_name, from_address, to_address, subject, text, html, at FROM mail WHERE id = :id`,
    { id: bytesOf(id) },
  );
  if (row === undefined) throw new Problem('not-found');
  return {
    ...{
      messageId: row.message_id,
      from: { name: row.from_name, address: row.from_address },
      to: row.to_address,
    },
    ...{ envelopeFrom: row.from_address, subject: row.subject, text: row.text, html: row.html },
    ...{
      inReplyTo: row.in_reply_to,
      references: row.reference_ids === '' ? [] : row.reference_ids.split(' '),
    },
    ...{ headers: {}, attachments: [], date: new Date(instantOf(row.at)) },
  };
}

/**
 * Takes in a mail that somebody kept as a file, as if it had come to them. Nobody vouches for whom it is from: it waits to be filed.
 * @throws Problem `too-large`, `invalid-request` for what is no mail
 */
export async function addMailFile(
  services: Services,
  who: SignedIn,
  request: Request,
): Promise<{ isNew: boolean }> {
  const content = await bytesIn(request);
  if (!isMail(content))
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'file', message: $localize`is no mail: it does not say from whom and when` }] },
    );
  return { isNew: await storeArrival(services, { content, envelopeFrom: null, envelopeTo: who.email }) };
}

const longestHead = 64 * 1024;

/** What RFC 5322 (3.6) asks of every mail: from whom, and when. */
function isMail(content: Buffer): boolean {
  const [head = ''] = content
    .subarray(0, longestHead)
    .toString('latin1')
    .split(/\r?\n\r?\n/, 1);
  return /^from:.*\S/im.test(head) && /^date:.*\S/im.test(head);
}

async function bytesIn(request: Request): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > mostBytes) throw new Problem('too-large', { limit: '25 MB' });
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}
