import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import { sendNotice, readLink, signLink } from '../../activity/outbox/index';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { readSecret } from '../../platform/database/secret';
import { instantOrNull, sqlInstant } from '../../platform/database/values';
import { escapeHtml } from '../../platform/http/html';
import { sendPublicMessage, sendPublicPage } from '../../platform/http/public-page';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { work, type Work } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';

export const askConsentKind = 'ask-consent';
const mostDays = 30;

/** Asks for the mail with the question, once for each lead. */
export async function askForConsent(w: Work, leadId: string): Promise<void> {
  await enqueue(w, {
    kind: askConsentKind,
    dedupeKey: `${askConsentKind}:${leadId}`,
    payload: { leadId },
    dueAt: w.now,
  });
}

type Asked = Row<'sales_lead', 'consent_words' | 'consent_confirmed_at' | 'contact_id' | 'created_at'> & {
  email: string | null;
  form_title: Tables['web_form']['title'];
};

const readAsked = async ({ database }: Services, leadId: string) => {
  const [row] = await database.rows<Asked>(
    `SELECT l.consent_words, l.consent_confirmed_at, l.contact_id, l.created_at, c.email, f.title AS form_title
       FROM sales_lead l JOIN contact c ON c.id = l.contact_id JOIN web_form f ON f.id = l.form_id
      WHERE l.id = :id AND l.consent_confirms AND l.consent_words IS NOT NULL`,
    { id: bytesOf(leadId) },
  );
  return row;
};

/** Mails the question whether they gave their consent. Twice the same question does no harm, so a crash repeats it. */
export const askConsentJob = (services: Services): JobKind => ({
  words: $localize`asking for a consent by mail`,
  effect: 'guarded',
  run: async (payload) => {
    const { leadId } = z.object({ leadId: z.uuid() }).parse(payload);
    const asked = await readAsked(services, leadId);
    if (!asked || asked.email === null || asked.consent_confirmed_at !== null) return;
    const token = signLink(await readSecret(services.database, 'links'), 'consent', leadId);
    const link = `${services.channels.publicOrigin}/out/forms/consent/${token}`;
    const isSent = await sendNotice(services, {
      to: asked.email,
      subject: $localize`Please confirm: ${asked.form_title}:formtitle:`,
      text: $localize`Somebody, most likely you, sent us “${asked.form_title}:formtitle:” with this address and agreed to this:\n\n${asked.consent_words ?? ''}:consentwords:\n\nIf it was you, please confirm it here:\n\n${link}:link:\n\nThe link is good for ${mostDays}:mostDays: days. If it was not you, you need do nothing, and we write no more.\n`,
    });
    if (!isSent) throw new Error('the question for a consent did not leave');
  },
});

/** The page behind the link. Looking at it changes nothing: mail programs follow links to see where they lead. */
export function consentRoutes(services: Services): Router {
  const router = express.Router();
  const find = async (token: string) => {
    const link = readLink(await readSecret(services.database, 'links'), 'consent', token);
    const asked = link && (await readAsked(services, link.mailId));
    if (!link || !asked) return null;
    const age = services.clock.millis() - Date.parse(instantOrNull(asked.created_at)!);
    return age > mostDays * 86_400_000 ? null : { leadId: link.mailId, ...asked };
  };
  router.get('/:token', async ({ params }, response) => {
    const asked = await find(params.token);
    if (asked === null) return over(services, response);
    if (asked.consent_confirmed_at !== null) return thanks(services, response);
    await sendPublicPage(services, response, {
      title: $localize`Do you agree?`,
      body: `<p>${escapeHtml(asked.consent_words ?? '')}</p><form method="post"><button>${$localize`Yes, I agree`}</button></form>`,
    });
  });
  router.post('/:token', async ({ params }, response) => {
    const asked = await find(params.token);
    if (asked === null) return over(services, response);
    await confirm(services, asked.leadId);
    await thanks(services, response);
  });
  return router;
}

/** Once, however often it is pressed. */
async function confirm(services: Services, leadId: string): Promise<void> {
  await work(services, null, async (w) => {
    const confirmed = await w.change(
      `UPDATE sales_lead SET consent_confirmed_at = :now, version = version + 1
        WHERE id = :id AND consent_confirmed_at IS NULL AND consent_confirms`,
      { id: bytesOf(leadId), now: sqlInstant(w.now) },
    );
    if (confirmed === 0) return;
    const [lead] = await w.rows<Row<'sales_lead', 'contact_id' | 'consent_words' | 'owner_id'>>(
      'SELECT contact_id, consent_words, owner_id FROM sales_lead WHERE id = :id',
      { id: bytesOf(leadId) },
    );
    await writeSystemEntry(w, {
      contactId: idOf<string>(lead!.contact_id),
      userId: idOrNull<string>(lead!.owner_id),
      body: $localize`Consent confirmed by mail: “${lead!.consent_words ?? ''}:consentwords:”`,
    });
  });
}

const thanks = (services: Services, response: Response) =>
  sendPublicMessage(services, response, {
    title: $localize`Thank you`,
    words: $localize`Your consent is confirmed.`,
  });

const over = (services: Services, response: Response) =>
  sendPublicMessage(services, response, {
    status: 404,
    title: $localize`Not here`,
    words: $localize`This link is incomplete, or older than 30 days.`,
  });
