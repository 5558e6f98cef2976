import type { QuoteId } from '@kettle/contract';
import { numberFormat } from '@kettle/core/locale';
import { sayToThePenny } from '@kettle/core/money';
import { localDate, sayDate } from '@kettle/core/time';
import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import type { Queryable, WithKeys } from '../../platform/database/database';
import { readSecret } from '../../platform/database/secret';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf, sqlInstant } from '../../platform/database/values';
import { escapeHtml } from '../../platform/http/html';
import { sendPublicMessage, sendPublicPage } from '../../platform/http/public-page';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { actingAs, work, type Work } from '../../platform/work/work';
import { readLink } from '../../activity/outbox/index';
import { writePdf } from '../../records/documents/index';
import { notify } from '../../records/notifications/index';
import { readSignedIn } from '../../records/users/index';
import { quoteContent, type QuoteContent } from './content';
import { decideOnPage } from './decide-quote';
import { quoteDocument } from './quote-document';
import { readLines, readQuoteRow, stateOf, totalsOf, type QuoteRow } from './quote-rows';
import { addStep, tellJournal } from './send-quote';

const mostWords = 2000;
/** More are no questions. */
const mostQuestions = 30;

const places = z
  .union([z.string(), z.array(z.string())])
  .optional()
  .transform((given) => (given === undefined ? [] : [given].flat()).map(Number));

const answer = z.object({
  what: z.enum(['accept', 'decline', 'ask']),
  n: z.coerce.number().int(),
  name: z.string().trim().max(160).default(''),
  words: z.string().trim().max(mostWords).default(''),
  chosen: places,
});

interface Shown {
  /** The end of its address. */
  readonly token: string;
  readonly row: QuoteRow;
  readonly content: QuoteContent;
}

/** The quote that a link is of; null where nobody of ours made it. */
const idOfToken = async (db: WithKeys, token: string): Promise<QuoteId | null> =>
  (readLink(await readSecret(db, 'links'), 'quote', token)?.mailId as QuoteId | undefined) ?? null;

/** What is out of a quote: its last version as it was sent. */
async function readShown(db: WithKeys, token: string): Promise<Shown | null> {
  const id = await idOfToken(db, token);
  if (id === null) return null;
  const [found] = await db.rows<Row<'quote_version', 'content'>>(
    'SELECT content FROM quote_version WHERE quote_id = :id ORDER BY n DESC LIMIT 1',
    { id: bytesOf(id) },
  );
  if (found === undefined) return null;
  const row = await readQuoteRow(db, id);
  const content = quoteContent.parse(jsonOf(found.content));
  return { token, row, content: row.state === 'accepted' ? await asAccepted(db, row, content) : content };
}

/** With the options that were taken, and what it comes to with them. */
async function asAccepted(db: Queryable, row: QuoteRow, content: QuoteContent): Promise<QuoteContent> {
  const taken = (await readLines(db, [row.id])).get(idOf(row.id)) ?? [];
  const lines = content.lines.map((line, at) => ({ ...line, isChosen: taken[at]?.isChosen === true }));
  return { ...content, lines, totals: totalsOf(lines) };
}

/** The page behind the link of a quote. Looking at it changes nothing: mail programs follow links to see where they lead. */
export function quotePageRoutes(services: Services): Router {
  const { database, clock } = services;
  const router = express.Router();
  router.get('/:token', async ({ params }, response) => {
    await show(services, response, params.token, {});
  });
  router.get('/:token/pdf', async ({ params }, response) => {
    const shown = await readShown(database, params.token);
    if (shown === null) return sendGone(services, response);
    const bytes = await writePdf(
      services,
      quoteDocument(shown.content, { language: 'en-GB', madeAt: clock.now() }),
    );
    response
      .set('Content-Disposition', `inline; filename="${shown.content.number}.pdf"`)
      .set('Cache-Control', 'no-store')
      .type('application/pdf')
      .send(bytes);
  });
  router.post(
    '/:token',
    express.urlencoded({ extended: false, limit: '16kb' }),
    async ({ params, body }, response) => {
      const id = await idOfToken(database, params.token);
      const said = answer.safeParse(body);
      if (id === null || !said.success) return show(services, response, params.token, {});
      await take(services, response, { id, token: params.token }, said.data);
    },
  );
  return router;
}

type Answer = z.output<typeof answer>;

async function take(
  services: Services,
  response: Response,
  { id, token }: { readonly id: QuoteId; readonly token: string },
  said: Answer,
): Promise<void> {
  const { what, n, name, words, chosen } = said;
  const again = (wrong: string) => show(services, response, token, { wrong, said });
  if (name === '') return again($localize`Please say who you are.`);
  if (what === 'ask') {
    if (words === '') return again($localize`Please write your question.`);
    const isTaken = await work(services, null, (w) => ask(w, id, { name, words }));
    return isTaken
      ? sendPublicMessage(services, response, {
          title: $localize`Thank you`,
          words: $localize`We have your question and will come back to you. The quote stays open.`,
        })
      : sendGone(services, response);
  }
  const as = what === 'accept' ? 'accepted' : 'declined';
  const isDone = await work(services, null, (w) => decideOnPage(w, id, n, { as, name, words, chosen }));
  return show(
    services,
    response,
    token,
    isDone ? {} : { wrong: $localize`It changed meanwhile. This is how it is now.` },
  );
}

async function ask(
  w: Work,
  id: QuoteId,
  { name, words }: { readonly name: string; readonly words: string },
): Promise<boolean> {
  await w.rows('SELECT 1 FROM quote WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const row = await readQuoteRow(w, id);
  const [known] = await w.rows<{ many: string }>(
    'SELECT COUNT(*) AS many FROM quote_question WHERE quote_id = :id',
    {
      id: row.id,
    },
  );
  if (row.state === 'draft' || Number(known!.many) >= mostQuestions) return false;
  await w.change(
    'INSERT INTO quote_question (id, quote_id, name, words, at) VALUES (:key, :id, :name, :words, :now)',
    {
      ...{ key: bytesOf(newId()), id: row.id, name, words, now: sqlInstant(w.now) },
    },
  );
  const owner = actingAs(w, await readSignedIn(w, idOf(row.owner_id), w.now));
  const told = $localize`${name}:name: asks about quote “${row.name}:title:”: ${words}:words:`;
  await tellJournal(owner, row, told, owner.who.id);
  await addStep(owner, row, {
    ...{ dueOn: localDate(w.now, owner.who.zone), channel: 'email' },
    purpose: $localize`answer ${name}:name:: ${words}:words:`,
  });
  await notify(w, 'answer', [owner.who.id], told, `/quotes/${id}`);
  w.say(told);
  return true;
}

const sendGone = (services: Services, response: Response) =>
  sendPublicMessage(services, response, {
    status: 404,
    title: $localize`Not here`,
    words: $localize`This link is incomplete, or what it was about is over.`,
  });

interface Again {
  readonly wrong?: string;
  readonly said?: Answer;
}

async function show(services: Services, response: Response, token: string, again: Again): Promise<void> {
  const shown = await readShown(services.database, token);
  if (shown === null) return sendGone(services, response);
  const { content } = shown;
  await sendPublicPage(services, response, {
    title: content.title,
    body: bodyOf(shown, services.clock.now(), again),
  });
}

const figure = (value: number) => numberFormat({ maximumFractionDigits: 2 }).format(value);
const paragraphs = (text: string) =>
  text === ''
    ? ''
    : text
        .split(/\n{2,}/)
        .map((part) => `<p>${escapeHtml(part).replaceAll('\n', '<br>')}</p>`)
        .join('');

function bodyOf(shown: Shown, now: string, { wrong, said }: Again): string {
  const { row, content } = shown;
  const { lines, totals, currency, number, n } = content;
  const money = (minor: number) => escapeHtml(sayToThePenny(minor, currency));
  const today = now.slice(0, 10);
  const state = stateOf(row, today);
  const chosen = new Set(said?.chosen ?? []);
  const name = n > 1 ? $localize`${number}:number:, version ${n}:n:` : number;
  const cells = lines.map((line, at) => {
    const option =
      line.isOptional && state === 'sent'
        ? `<label class="tick"><input type="checkbox" form="accept" name="chosen" value="${at}"${chosen.has(at) ? ' checked' : ''}><span>${escapeHtml($localize`take this too`)}</span></label>`
        : line.isOptional
          ? `<br>${escapeHtml(line.isChosen ? $localize`chosen` : $localize`optional, not in the total`)}`
          : '';
    const less =
      line.discountPercent === 0
        ? ''
        : `, ${escapeHtml($localize`less ${figure(line.discountPercent)}:percent: %`)}`;
    const yearly = line.billing === 'yearly' ? `, ${escapeHtml($localize`each year`)}` : '';
    return `<tr><th scope="row">${escapeHtml(line.name)}${option}</th>
<td>${figure(line.quantity)} × ${money(line.priceMinor)}${less}${yearly}</td><td>${money(line.netMinor)}</td></tr>`;
  });
  const sums = [
    [$localize`net`, totals.netMinor] as const,
    ...totals.taxes.map(
      ({ percent, taxMinor }) => [$localize`tax ${figure(percent)}:percent: %`, taxMinor] as const,
    ),
    [$localize`total`, totals.totalMinor] as const,
  ].map(
    ([words, minor]) =>
      `<tr><th scope="row" colspan="2">${escapeHtml(words)}</th><td>${money(minor)}</td></tr>`,
  );
  const about = $localize`Quote ${name}:name:, valid until ${sayDate(content.validUntil, content.sentOn)}:until:`;
  return `${wrong === undefined ? '' : `<p class="wrong" role="alert">${escapeHtml(wrong)}</p>`}
<p>${escapeHtml(about)}</p>
${content.customer.length === 0 ? '' : `<p>${content.customer.map(escapeHtml).join('<br>')}</p>`}
${paragraphs(content.intro)}
<table><caption class="besides">${escapeHtml($localize`What is offered`)}</caption><tbody>${cells.join('')}</tbody><tfoot>${sums.join('')}</tfoot></table>
${paragraphs(content.closing)}${paragraphs(content.seller.payment)}
${footOf(shown, state, said)}`;
}

function footOf({ row, content, token }: Shown, state: string, said: Answer | undefined): string {
  const pdf = `<p><a href="${escapeHtml(token)}/pdf">${escapeHtml($localize`As PDF`)}</a></p>`;
  const status = (words: string) => `<p role="status"><b>${escapeHtml(words)}</b></p>`;
  if (state === 'accepted')
    return status($localize`Accepted by ${row.decided_name ?? ''}:name:. Thank you.`) + pdf;
  if (state === 'declined')
    return status($localize`Declined by ${row.decided_name ?? ''}:name:.`) + pdf + askForm(content, said);
  if (state === 'withdrawn') return status($localize`This quote was withdrawn.`) + askForm(content, said);
  if (state === 'draft') return status($localize`Another version of this quote is being written.`);
  if (state === 'lapsed')
    return status($localize`This quote is not valid any more. Ask us for another.`) + askForm(content, said);
  return `${pdf}${acceptForm(content, said)}${declineForm(content, said)}${askForm(content, said)}`;
}

const hidden = (what: Answer['what'], { n }: QuoteContent) =>
  `<input type="hidden" name="what" value="${what}"><input type="hidden" name="n" value="${n}">`;

const nameField = (said: Answer | undefined, what: Answer['what']) =>
  `<label><span>${escapeHtml($localize`Your name`)}</span><input name="name" required maxlength="160" autocomplete="name" value="${escapeHtml(said?.what === what ? said.name : '')}"></label>`;

const wordsField = (label: string, said: Answer | undefined, what: Answer['what'], more = '') =>
  `<label><span>${escapeHtml(label)}</span><textarea name="words" rows="3" maxlength="${mostWords}"${more}>${escapeHtml(said?.what === what ? said.words : '')}</textarea></label>`;

const acceptForm = (content: QuoteContent, said: Answer | undefined) =>
  `<h2>${escapeHtml($localize`Accept`)}</h2><form method="post" id="accept">${hidden('accept', content)}${nameField(said, 'accept')}
${wordsField($localize`Words with it (if you like)`, said, 'accept')}<button>${escapeHtml($localize`Accept this quote`)}</button></form>`;

const declineForm = (content: QuoteContent, said: Answer | undefined) =>
  `<details><summary>${escapeHtml($localize`Decline`)}</summary><form method="post">${hidden('decline', content)}${nameField(said, 'decline')}
${wordsField($localize`Why (if you like)`, said, 'decline')}<button>${escapeHtml($localize`Decline this quote`)}</button></form></details>`;

const askForm = (content: QuoteContent, said: Answer | undefined) =>
  `<details${said?.what === 'ask' ? ' open' : ''}><summary>${escapeHtml($localize`Ask something`)}</summary><form method="post">${hidden('ask', content)}${nameField(said, 'ask')}
${wordsField($localize`Your question`, said, 'ask', ' required')}<button>${escapeHtml($localize`Send`)}</button></form></details>`;
