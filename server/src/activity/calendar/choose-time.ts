import type { ContactId, DealId, UserId } from '@kettle/contract';
import { addMinutes, localDate } from '@kettle/core/time';
import express, { type Response, type Router } from 'express';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { readSecret } from '../../platform/database/secret';
import type { Row } from '../../platform/database/schema.generated';
import { instantOrNull, jsonOf, sqlInstant } from '../../platform/database/values';
import { escapeHtml } from '../../platform/http/html';
import { sendPublicMessage, sendPublicPage } from '../../platform/http/public-page';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { actingAs, work, type Work } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { readSignedIn } from '../../records/users/index';
import { readLink } from '../outbox/index';
import { readTaken } from './free-times';
import { sayTime } from './offer-times';
import { planAppointment } from './plan-appointment';

const timesShape = z.array(z.iso.datetime());
const mostWords = 1000;
const answer = z.object({
  at: z.iso.datetime().optional(),
  words: z.string().trim().max(mostWords).optional(),
});

type OfferRow = Row<
  'offered_times',
  | 'id'
  | 'owner_id'
  | 'contact_id'
  | 'deal_id'
  | 'channel'
  | 'title'
  | 'place'
  | 'minutes'
  | 'times'
  | 'chosen_at'
> &
  Pick<Row<'contact', 'zone' | 'display_name'>, 'zone' | 'display_name'> & {
    owner_name: string;
    owner_zone: string;
  };

async function readOffer(db: Queryable, id: string): Promise<OfferRow | undefined> {
  const [row] = await db.rows<OfferRow>(
    `SELECT o.id, o.owner_id, o.contact_id, o.deal_id, o.channel, o.title, o.place, o.minutes, o.times, o.chosen_at, c.zone,
            c.display_name, u.name AS owner_name, u.zone AS owner_zone
       FROM offered_times o JOIN contact c ON c.id = o.contact_id JOIN app_user u ON u.id = o.owner_id
      WHERE o.id = :id AND c.archived_at IS NULL AND u.deactivated_at IS NULL`,
    { id: bytesOf(id) },
  );
  return row;
}

const timesOf = (offer: OfferRow) => timesShape.parse(jsonOf(offer.times));

/** Which of the times are still free: ahead, and nothing of ours over them. */
async function freeOf(db: Queryable, offer: OfferRow, now: string): Promise<string[]> {
  const times = timesOf(offer).filter((at) => at > now);
  if (times.length === 0) return [];
  const taken = await readTaken(db, idOf<UserId>(offer.owner_id), {
    from: localDate(times[0]!, offer.owner_zone),
    zone: offer.owner_zone,
  });
  const isFree = (from: string) => {
    const to = addMinutes(from, offer.minutes);
    return !taken.some(
      (block) =>
        addMinutes(block.startsAt, -block.travelMinutes) < to &&
        addMinutes(block.endsAt, block.travelAfterMinutes) > from,
    );
  };
  return times.filter(isFree);
}

/** The page behind the link of an offer. Looking at it changes nothing: mail programs follow links to see where they lead. */
export function timesRoutes(services: Services): Router {
  const router = express.Router();
  const idOfToken = async (token: string) =>
    readLink(await readSecret(services.database, 'links'), 'times', token)?.mailId ?? null;
  router.get('/:token', async ({ params }, response) => {
    const id = await idOfToken(params.token);
    await show(services, response, id);
  });
  router.post(
    '/:token',
    express.urlencoded({ extended: false, limit: '8kb' }),
    async ({ params, body }, response) => {
      const id = await idOfToken(params.token);
      const said = answer.safeParse(body);
      if (id === null || !said.success) return show(services, response, id);
      const { at, words } = said.data;
      if (at !== undefined) {
        const isMade = await work(services, null, (w) => choose(w, id, at));
        return show(
          services,
          response,
          id,
          isMade ? '' : $localize`That time is not free any more. Please choose another.`,
        );
      }
      if (words) {
        await work(services, null, (w) => sayNone(w, id, words));
        return sendPublicMessage(services, response, {
          title: $localize`Thank you`,
          words: $localize`We have your words and will come back to you.`,
        });
      }
      return show(services, response, id);
    },
  );
  return router;
}

async function show(services: Services, response: Response, id: string | null, wrong = ''): Promise<void> {
  const { database, clock } = services;
  const offer = id === null ? undefined : await readOffer(database, id);
  if (offer === undefined)
    return sendPublicMessage(services, response, {
      status: 404,
      title: $localize`Not here`,
      words: $localize`This link is incomplete, or what it was about is over.`,
    });
  const now = clock.now();
  const sayAt = (at: string) => sayTime(at, offer.zone, now);
  const chosen = instantOrNull(offer.chosen_at);
  if (chosen !== null)
    return sendPublicMessage(services, response, {
      title: offer.title,
      words: $localize`Agreed: ${sayAt(chosen)}:when:, with ${offer.owner_name}:name:. The invitation comes by mail.`,
    });
  const free = await freeOf(database, offer, now);
  const buttons = free.map(
    (at) =>
      `<p class="row"><button name="at" value="${escapeHtml(at)}">${escapeHtml(sayAt(at))}</button></p>`,
  );
  const where = offer.place === null ? '' : `<p>${escapeHtml(offer.place)}</p>`;
  const about = $localize`${offer.minutes}:minutes: minutes with ${offer.owner_name}:name:. Times are as the clock shows in ${offer.zone}:zone:.`;
  const none = $localize`None of these times is free any more. Please say when it would suit you.`;
  await sendPublicPage(services, response, {
    title: offer.title,
    body: `${wrong === '' ? '' : `<p class="wrong" role="alert">${escapeHtml(wrong)}</p>`}
<p>${escapeHtml(about)}</p>${where}
${free.length === 0 ? `<p>${escapeHtml(none)}</p>` : `<form method="post">${buttons.join('')}</form>`}
<form method="post"><label><span>${escapeHtml($localize`None suits you? Say when it would.`)}</span>
<textarea name="words" rows="3" maxlength="${mostWords}" required></textarea></label>
<button>${escapeHtml($localize`Send`)}</button></form>`,
  });
}

/** One press makes the appointment, once: whoever presses again, or another time, is told what was agreed. @returns false when it is not free */
async function choose(w: Work, id: string, at: string): Promise<boolean> {
  await w.rows('SELECT 1 FROM offered_times WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const offer = await readOffer(w, id);
  if (offer === undefined || offer.chosen_at !== null) return true;
  if (!(await freeOf(w, offer, w.now)).includes(at)) return false;
  const owner = actingAs(w, await readSignedIn(w, idOf<UserId>(offer.owner_id), w.now));
  const contactId = idOf<ContactId>(offer.contact_id);
  const made = await planAppointment(owner, {
    ...{
      title: offer.title,
      startsAt: at,
      minutes: offer.minutes,
      place: offer.place,
      channel: offer.channel,
    },
    ...{ contactId, dealId: idOrNull<DealId>(offer.deal_id), ownerId: owner.who.id, invites: true },
    ...{
      guestIds: [],
      colleagueIds: [],
      travelMinutes: 0,
      travelAfterMinutes: 0,
      note: null,
      remindMinutes: null,
    },
  });
  await w.change('UPDATE offered_times SET chosen_at = :at WHERE id = :id', {
    id: bytesOf(id),
    at: sqlInstant(at),
  });
  const when = sayTime(at, offer.owner_zone, w.now);
  const words = $localize`${offer.display_name}:name: chose ${when}:when:: ${offer.title}:title:`;
  await tell(w, offer, words, `/calendar?on=${localDate(at, offer.owner_zone)}&appointment=${made.id}`);
  w.say(words);
  return true;
}

async function sayNone(w: Work, id: string, said: string): Promise<void> {
  const offer = await readOffer(w, id);
  if (offer === undefined) return;
  const words = $localize`None of the times suits ${offer.display_name}:name:: ${said}:said:`;
  await tell(w, offer, words, `/people/${idOf<string>(offer.contact_id)}`);
}

/** In the journal, and to whoever asked. */
async function tell(w: Work, offer: OfferRow, words: string, path: string): Promise<void> {
  const userId = idOf<string>(offer.owner_id);
  await writeSystemEntry(w, { contactId: idOf<string>(offer.contact_id), userId, body: words });
  await notify(w, 'answer', [userId], words, path);
}
