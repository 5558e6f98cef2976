import express, { type Response, type Router } from 'express';
import { isOneClick } from '@kettle/core/mail';
import { gatewayEvent, isSignedBy, takeGatewayEvent } from '../telephone/index';
import type { Queryable } from '../../platform/database/database';
import { textsOf } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { tellRuns } from '../cadences/index';
import { writeSystemEntry } from '../../records/entries/index';
import { stir } from '../stirrings/index';
import { readSecret } from '../../platform/database/secret';
import { sendPublicMessage, sendPublicPage } from '../../platform/http/public-page';
import { unsubscribe } from '../mail/index';
import { type LinkPurpose, readLink } from '../../activity/outbox/index';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** One transparent point. */
const picture = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

/**
 * The doors to outside: the picture in a mail, its links, unsubscribing, and the gateways' web hooks. Nobody is signed in
 * here; what a token or a signature does not name does not happen.
 */
export function outsideRoutes(services: Services): Router {
  const router = express.Router();
  const named = async (purpose: LinkPurpose, token: string) =>
    readLink(await readSecret(services.database, 'links'), purpose, token);

  router.get('/o/:token', async ({ params }, response) => {
    const link = await named('open', params.token);
    if (link) await sign(services, link.mailId, 'opened', 'opened');
    response.set({ 'Content-Type': 'image/gif', 'Cache-Control': 'no-store' }).send(picture);
  });

  router.get('/c/:token', async ({ params }, response) => {
    const link = await named('click', params.token);
    const url = link && (await linkOf(services.database, link.mailId, link.number));
    if (!link || url === null || url === undefined)
      return sendPublicMessage(services, response, {
        status: 404,
        title: $localize`This link leads nowhere`,
        words: $localize`It may be incomplete. Open the mail again and follow it from there.`,
      });
    await sign(services, link.mailId, 'clicked', `clicked:${link.number}`);
    response.set('Cache-Control', 'no-store').set('Referrer-Policy', 'no-referrer').redirect(302, url);
  });

  // Looking at the page changes nothing: mail programs follow links to see where they lead (RFC 8058, section 1).
  router.get('/u/:token', async ({ params }, response) => {
    if ((await named('unsubscribe', params.token)) === null) return unknownLink(services, response);
    await sendPublicPage(services, response, {
      title: $localize`No more e-mail?`,
      body: `<p>${$localize`One press, and we send you no more.`}</p><form method="post"><button name="List-Unsubscribe" value="One-Click">${$localize`Send me no more`}</button></form>`,
    });
  });

  router.post(
    '/u/:token',
    express.urlencoded({ extended: false, limit: '4kb' }),
    multipartToo,
    async (request, response) => {
      const link = await named('unsubscribe', String(request.params.token));
      if (link === null) return unknownLink(services, response);
      if (!isOneClick((request.body ?? {}) as Record<string, unknown>))
        return sendPublicMessage(services, response, {
          status: 400,
          title: $localize`Not understood`,
          words: $localize`Open the link from the mail and press the button.`,
        });
      await work(services, null, async (w) => {
        const mail = await subjectOf(w, link.mailId);
        if (mail?.contactId)
          await unsubscribe(w, {
            contactId: mail.contactId,
            channel: 'email',
            origin: $localize`unsubscribed by link`,
            eventId: `unsubscribed:${link.mailId}`,
            mailId: link.mailId,
          });
      });
      await sendPublicMessage(services, response, {
        title: $localize`Done`,
        words: $localize`You get no more e-mail from us. Should that be a mistake, tell the person who wrote to you.`,
      });
    },
  );

  router.post('/hooks', express.text({ type: () => true, limit: '64kb' }), async (request, response) => {
    const { gatewaySecret } = services.channels;
    const body = typeof request.body === 'string' ? request.body : '';
    if (gatewaySecret === null || !isSignedBy(body, request.get('x-signature') ?? '', gatewaySecret))
      return void response.status(403).json({ detail: $localize`the signature does not fit` });
    const event = gatewayEvent.safeParse(safeJson(body));
    if (!event.success) return void response.status(400).json({ detail: event.error.issues[0]?.message });
    await takeGatewayEvent(services, event.data);
    response.json({ ok: true });
  });
  return router;
}

/** Some providers send the one-click request as multipart (RFC 8058, section 3.2 allows both). */
const multipartToo: express.RequestHandler = (request, _response, next) => {
  if (!request.is('multipart/form-data')) return next();
  express.text({ type: () => true, limit: '4kb' })(request, _response, (error: unknown) => {
    const body = typeof request.body === 'string' ? request.body : '';
    const found = /name="List-Unsubscribe"\r?\n(?:[^\r\n]+\r?\n)*\r?\n([^\r\n]*)/.exec(body)?.[1];
    request.body = { 'List-Unsubscribe': found };
    next(error);
  });
};

function safeJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

interface MailSubject {
  readonly contactId: string | null;
  readonly subject: string;
}

async function subjectOf(db: Queryable, mailId: string): Promise<MailSubject | null> {
  const [row] = await db.rows<Row<'mail', 'contact_id' | 'subject'>>(
    "SELECT contact_id, subject FROM mail WHERE id = :id AND direction = 'out'",
    { id: bytesOf(mailId) },
  );
  return row === undefined ? null : { contactId: idOrNull(row.contact_id), subject: row.subject };
}

/** The n-th link stored with a mail: there is no other place a token can lead to. */
async function linkOf(db: Queryable, mailId: string, number: number): Promise<string | null> {
  const [row] = await db.rows<{ links: unknown }>('SELECT links FROM mail WHERE id = :id', {
    id: bytesOf(mailId),
  });
  const links = row === undefined ? [] : textsOf(row.links);
  return links[number] ?? null;
}

/** A sign of life by a mail: noted, and told to the runs for which it makes a step needless. */
async function sign(
  services: Services,
  mailId: string,
  kind: 'opened' | 'clicked',
  key: string,
): Promise<void> {
  await work(services, null, async (w) => {
    const mail = await subjectOf(w, mailId);
    if (!mail?.contactId) return;
    const { contactId } = mail;
    const [person] = await w.rows<Row<'contact', 'id'>>('SELECT id FROM contact WHERE id = :id FOR UPDATE', {
      id: bytesOf(contactId),
    });
    if (!person) return;
    const { subject } = mail;
    const words =
      kind === 'opened'
        ? $localize`opened “${subject}:subject:”`
        : $localize`followed a link in “${subject}:subject:”`;
    const isFirst = await stir(w, { key: `${key}:${mailId}`, kind, words, contactId, mailId });
    if (!isFirst) return;
    await writeSystemEntry(w, {
      contactId,
      body:
        kind === 'opened'
          ? $localize`Opened “${subject}:subject:”`
          : $localize`Followed a link in “${subject}:subject:”`,
    });
    await tellRuns(w, idOf(person.id), (stored) => ({
      id: `${key}:${mailId}:${stored.id}`,
      at: services.clock.now(),
      kind: 'sign',
      sign: kind,
    }));
  });
}

const unknownLink = (services: Services, response: Response) =>
  sendPublicMessage(services, response, {
    status: 404,
    title: $localize`This link is not known`,
    words: $localize`It may be incomplete. Open the mail again and follow it from there.`,
  });
