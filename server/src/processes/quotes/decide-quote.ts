import type { DecideQuote, QuoteId, Stage } from '@kettle/contract';
import { sayNumber } from '@kettle/core/quotes';
import { localDate } from '@kettle/core/time';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { actingAs, type PersonWork, type Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readPipelines } from '../../records/pipelines/index';
import { readAt, readSignedIn } from '../../records/users/index';
import { changeDeal, readDeal } from '../deals/index';
import { readLines, readQuoteRow, type QuoteRow } from './quote-rows';
import { addStep, dropAsking, tellJournal } from './send-quote';
import { lockSeen } from './write-quote';

type Said = Omit<DecideQuote, 'version'>;

/** What the customer said, told by whoever heard it. @throws Problem `stale` */
export async function decideQuote(
  w: PersonWork,
  id: QuoteId,
  { version, ...said }: DecideQuote,
): Promise<void> {
  const row = await lockSeen(w, { id, version }, ['sent']);
  w.say(await decide(w, row, said));
}

/**
 * The same, said by the customer on the page of the version they saw; done in the name of the deal's owner.
 * @returns false when it is not out any more, lapsed, or another version is
 */
export async function decideOnPage(w: Work, id: QuoteId, n: number, said: Said): Promise<boolean> {
  await w.rows('SELECT 1 FROM quote WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const row = await readQuoteRow(w, id);
  const owner = actingAs(w, await readSignedIn(w, idOf(row.owner_id), w.now));
  if (row.state !== 'sent' || row.n !== n || row.valid_until < localDate(w.now, owner.who.zone)) return false;
  const words = await decide(owner, row, said);
  await notify(w, 'answer', [owner.who.id], words, `/quotes/${id}`);
  w.say(words);
  return true;
}

async function decide(w: PersonWork, row: QuoteRow, { as, name, words, chosen }: Said): Promise<string> {
  const lines = (await readLines(w, [row.id])).get(idOf(row.id)) ?? [];
  const taken = lines.flatMap(({ isOptional }, at) => (isOptional && chosen.includes(at) ? [at] : []));
  if (as === 'accepted' && taken.length > 0)
    await w.change('UPDATE quote_line SET is_chosen = 1 WHERE quote_id = :id AND position IN (:taken)', {
      id: row.id,
      taken,
    });
  await w.change(
    `UPDATE quote SET state = :as, decided_at = :now, decided_name = :name, decided_words = :words, version = version + 1 WHERE id = :id`,
    { id: row.id, as, now: sqlInstant(w.now), name, words },
  );
  const number = sayNumber('Q', row.number ?? 0);
  const told =
    as === 'accepted'
      ? $localize`${name}:name: accepted quote ${number}:number:`
      : $localize`${name}:name: declined quote ${number}:number:`;
  const said = words === '' ? told : `${told}: ${words}`;
  await dropAsking(w, row, told.slice(0, 200));
  await tellJournal(w, row, said, w.who.id);
  const today = localDate(w.now, w.who.zone);
  if (as === 'accepted') {
    await moveDealOn(w, row, taken);
    await addStep(w, row, { dueOn: today, purpose: $localize`win the deal: ${told}:what:` });
  } else await addStep(w, row, { dueOn: today, purpose: $localize`ask why: ${told}:what:` });
  return said;
}

/** The deal is worth what was accepted, and goes to the last stage before it is won; where that stage asks for more, it stays. */
async function moveDealOn(w: PersonWork, row: QuoteRow, taken: readonly number[]): Promise<void> {
  const deal = await readDeal(w, idOf<string>(row.deal_id), readAt(w.services, w.who));
  if (deal.status !== 'open') return;
  const all = (await readLines(w, [row.id])).get(idOf(row.id)) ?? [];
  const lines =
    deal.currency === row.currency
      ? all
          .filter(({ isOptional }, at) => !isOptional || taken.includes(at))
          .map(({ productId, name, quantity, priceMinor, discountPercent, billing }) => ({
            ...{ productId, name, quantity, priceMinor, discountPercent, billing },
          }))
      : undefined;
  const asked = {
    ...{ version: deal.version, name: deal.name, stageId: deal.stageId, amountMinor: deal.amountMinor },
    ...{ expectedCloseOn: deal.expectedCloseOn, tick: [], ...(lines !== undefined && { lines }) },
  };
  await changeDeal(w, deal.id, asked);
  const last = await lastStage(w, deal.stageId);
  if (last === null) return;
  const now = await readDeal(w, deal.id, readAt(w.services, w.who));
  try {
    await changeDeal(w, deal.id, {
      ...asked,
      version: now.version,
      amountMinor: now.amountMinor,
      stageId: last.id,
    });
  } catch (error) {
    if (!(error instanceof Problem) || !['brief-open', 'facts-needed'].includes(error.code)) throw error;
  }
}

/** The last stage of a stage's pipeline; null where that is it. */
async function lastStage(w: PersonWork, stageId: string): Promise<Stage | null> {
  const pipelines = await readPipelines(w);
  const stages = pipelines.find((each) => each.stages.some(({ id }) => id === stageId))?.stages ?? [];
  const last = stages.at(-1);
  return last === undefined || last.id === stageId ? null : last;
}
