import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import express, { type Request, type Response, type Router } from 'express';
import type { ContactId, LeadId, WebForm } from '@kettle/contract';
import { emailAddress } from '@kettle/contract';
import { splitName } from '@kettle/core/duplicates';
import { readPhone } from '@kettle/core/phone';
import { RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sendPublicMessage, sendPublicPage } from '../../platform/http/public-page';
import { bytesOf, idNamed, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readSecret } from '../../platform/database/secret';
import { stir } from '../stirrings/index';
import { addLead } from './add-lead';
import { askForConsent, consentRoutes } from './confirm-consent';
import { formBody, type FormState } from './form-page';
import { readWebForms } from './web-forms';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** Nobody reads and fills a form faster than this. */
const leastSeconds = 3;
/** A page left open over night is still good; an older one gets a new token and keeps what was typed. */
const mostSeconds = 24 * 3600;
const perAddress = { points: 8, duration: 10 * 60 };
const perForm = { points: 300, duration: 3600 };

const text = (most: number) =>
  z
    .string()
    .trim()
    .max(most, $localize`may have at most ${most}:most: characters`);
const optional = (most: number) => text(most).default('');

/** What a stranger must say; numbers without a country code are of the organisation's country. */
const filledIn = (homeCountry: string) =>
  z.object({
    name: text(160).min(1, $localize`Please say your name.`),
    email: z.string().trim().pipe(emailAddress),
    phone: optional(40).refine(
      (value) => value === '' || readPhone(value, homeCountry) !== null,
      $localize`This does not look like a telephone number.`,
    ),
    company: optional(160),
    postcode: optional(20),
    message: text(4000).min(1, $localize`Please say what it is about.`),
    consent: z.literal('yes', $localize`We need your consent to answer you.`),
  });
type Filled = z.output<ReturnType<typeof filledIn>>;

/** Forms for strangers, under their keys: the page, and what is sent from it. Nobody is signed in here. */
export function formRoutes(services: Services): Router {
  const router = express.Router();
  const { database, clock, channels } = services;
  const limit = (keyPrefix: string, rule: { points: number; duration: number }) =>
    new RateLimiterMySQL({
      storeClient: database.pool.pool,
      dbName: database.name,
      tableName: 'rate_limit',
      tableCreated: true,
      keyPrefix,
      ...rule,
    });
  const limits = { address: limit('form-address', perAddress), form: limit('form', perForm) };
  const find = async (key: string): Promise<WebForm | null> => {
    const [form] = await readWebForms(database, channels.publicOrigin, 'f.form_key = :key', { key });
    return form?.isOpen === true ? form : null;
  };
  const freshToken = async (form: WebForm) =>
    signToken(await readSecret(database, 'forms'), form.key, clock.millis());

  router.use('/consent', consentRoutes(services));
  router.get('/:key', async (request, response) => {
    const form = await find(request.params.key);
    if (form === null) return unknown(services, response);
    await show(services, response, {
      status: 200,
      form,
      state: { values: {}, wrong: {}, token: await freshToken(form) },
    });
  });

  router.post('/:key', express.urlencoded({ extended: false, limit: '16kb' }), async (request, response) => {
    const form = await find(String(request.params.key));
    if (form === null) return unknown(services, response);
    const values = textsOf(request.body);
    const again = async (status: number, wrong: FormState['wrong'], token = values.token ?? '') =>
      show(services, response, { status, form, state: { values, wrong, token } });
    // A machine fills in what no person sees; it is told nothing, so that it learns nothing.
    if (values.homepage) {
      await database.change('UPDATE web_form SET trapped = trapped + 1 WHERE id = :id', {
        id: bytesOf(form.id),
      });
      return thank(services, response, form);
    }
    const secret = await readSecret(database, 'forms');
    const age = tokenAge(secret, form.key, values.token ?? '', clock.millis());
    if (age === null || age > mostSeconds)
      return again(
        400,
        { form: $localize`This page was open for long. Please press Send once more.` },
        await freshToken(form),
      );
    if (age < leastSeconds)
      return again(400, {
        form: $localize`That was very quick. Please look it over and press Send once more.`,
      });
    const { organisation } = await services.settings.read(database);
    const read = filledIn(organisation.homeCountry).safeParse(values);
    if (!read.success) return again(400, wrongOf(read.error));
    // Only what would become a lead counts: whoever mistypes is not asked to wait.
    const wait = await waitSeconds(limits, form, request);
    if (wait > 0) {
      response.set('Retry-After', String(wait));
      return again(429, {
        form: $localize`That was a lot at once. Please send it again in ${Math.ceil(wait / 60)}:wait: minutes.`,
      });
    }
    await takeLead(services, form, read.data, values.token ?? '');
    await thank(services, response, form);
  });
  return router;
}

/** The same words from the same page are one lead, however often they arrive; other words from it are another. */
async function takeLead(services: Services, form: WebForm, sent: Filled, token: string): Promise<void> {
  await work(services, null, async (w) => {
    const id = idNamed<LeadId>(JSON.stringify([token, sent]), form.id);
    const isKnown = await w.rows('SELECT 1 FROM sales_lead WHERE id = :id', { id: bytesOf(id) });
    if (isKnown.length > 0) return;
    const phone = sent.phone === '' ? null : sent.phone;
    const known = await findKnown(w, sent);
    const { givenName, familyName } = splitName(sent.name);
    const person = {
      givenName: givenName.slice(0, 80),
      familyName: familyName.slice(0, 80),
      jobTitle: null,
      companyName: null,
      email: sent.email,
      phone,
      country: null,
      zone: null,
      checkInDays: null,
      doNotContact: [],
      source: form.source,
    };
    const [subject] = sent.message.split(/\r?\n/, 1);
    const leadId = await addLead(w, known === null ? { person } : { contactId: known }, {
      id,
      subject: subject!.slice(0, 160),
      about: sent.message,
      warmth: null,
      source: form.source,
      campaign: form.campaign,
      followUpOn: null,
      link: null,
      companyName: sent.company || null,
      postcode: sent.postcode || null,
      formId: form.id,
      consentWords: form.consentWords,
      confirmsConsent: form.confirmsConsent,
    });
    if (form.confirmsConsent) await askForConsent(w, id);
    const [row] = await w.rows<Row<'sales_lead', 'contact_id'>>(
      'SELECT contact_id FROM sales_lead WHERE id = :id',
      {
        id: bytesOf(leadId),
      },
    );
    const contactId = row === undefined ? null : idOf<string>(row.contact_id);
    const words = $localize`filled in “${form.title}:title:”`;
    await stir(w, { key: `form:${id}`, kind: 'form', words, contactId, mailId: null });
  });
}

/** Whoever has the address is the person; a name alone is not enough to write onto somebody's record. */
async function findKnown(tx: Queryable, { email }: Filled): Promise<ContactId | null> {
  const [row] = await tx.rows<Row<'contact', 'id'>>(
    `SELECT id FROM contact WHERE email = :email
     UNION SELECT contact_id FROM contact_point WHERE kind = 'email' AND value = :email LIMIT 1`,
    { email: email.toLowerCase() },
  );
  return row === undefined ? null : idOf(row.id);
}

/** Seconds to wait until this address, or this form as a whole, may send again. */
async function waitSeconds(
  limits: Readonly<Record<'address' | 'form', RateLimiterMySQL>>,
  form: WebForm,
  request: Request,
): Promise<number> {
  try {
    await limits.address.consume(`${form.key} ${request.ip ?? ''}`);
    await limits.form.consume(form.key);
    return 0;
  } catch (refusal) {
    if (!(refusal instanceof RateLimiterRes)) throw refusal;
    return Math.max(1, Math.ceil(refusal.msBeforeNext / 1000));
  }
}

function textsOf(body: unknown): Record<string, string> {
  const entries = Object.entries((body ?? {}) as Record<string, unknown>);
  return Object.fromEntries(
    entries.filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
  );
}

function wrongOf(error: z.ZodError): Record<string, string> {
  return Object.fromEntries(
    error.issues.map((issue) => [
      String(issue.path[0]),
      issue.path[0] === 'email'
        ? $localize`Please give an address we can answer, such as ada@firm.example.`
        : issue.message,
    ]),
  );
}

/** The page may stand where its admin said, or anywhere; nothing in it runs. */
const ancestorsOf = ({ origins }: WebForm) => (origins.length === 0 ? '*' : `'self' ${origins.join(' ')}`);

const thank = (services: Services, response: Response, form: WebForm) =>
  sendPublicMessage(services, response, {
    title: $localize`Thank you`,
    words: form.thanks,
    frameAncestors: ancestorsOf(form),
  });

const show = (
  services: Services,
  response: Response,
  { status, form, state }: { status: number; form: WebForm; state: FormState },
) =>
  sendPublicPage(services, response, {
    status,
    title: form.title,
    body: formBody(form, state),
    frameAncestors: ancestorsOf(form),
  });

const unknown = (services: Services, response: Response) =>
  sendPublicMessage(services, response, {
    status: 404,
    title: $localize`Not here`,
    words: $localize`This form is closed, or its address is incomplete.`,
  });

const tagBytes = 16;

/** When the page was made, with something that is there once, signed for this form: 8 + 8 bytes and 128 bits of HMAC-SHA256. */
function signToken(secret: Buffer, key: string, nowMillis: number): string {
  const what = Buffer.alloc(16);
  what.writeBigUInt64BE(BigInt(nowMillis));
  randomBytes(8).copy(what, 8);
  return Buffer.concat([what, tagOf(secret, key, what)]).toString('base64url');
}

/** Seconds since the page was made; null when the token was not made here for this form. */
function tokenAge(secret: Buffer, key: string, token: string, nowMillis: number): number | null {
  const bytes = Buffer.from(token, 'base64url');
  if (bytes.length !== 16 + tagBytes) return null;
  const what = bytes.subarray(0, 16);
  if (!timingSafeEqual(bytes.subarray(16), tagOf(secret, key, what))) return null;
  return (nowMillis - Number(what.readBigUInt64BE())) / 1000;
}

function tagOf(secret: Buffer, key: string, what: Buffer): Buffer {
  return createHmac('sha256', secret).update(key).update(what).digest().subarray(0, tagBytes);
}
