import type { placeRow as asked } from '@kettle/contract';
import type * as z from 'zod';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { type SignedIn, todayOf } from '../../records/users/index';
import { planPlaces, tagOfRound } from './kept-rounds';

/** Gives a row of one's own Round its place for today, or its computed one back. */
export async function placeRow(
  services: Services,
  who: SignedIn,
  body: z.output<typeof asked>,
): Promise<void> {
  const of = { user: bytesOf(who.id), today: todayOf(services, who) };
  const where = 'user_id = :user AND on_date = :today';
  switch (body.place) {
    case 'top':
      return work(services, who, async (w) => {
        w.say($localize`Pinned a row of the Round`);
        await w.change(`DELETE FROM round_place WHERE ${where} AND row_key = :key`, { ...of, key: body.key });
        await w.change('INSERT INTO round_place (user_id, on_date, row_key) VALUES (:user, :today, :key)', {
          ...of,
          key: body.key,
        });
      });
    case 'computed':
      return work(services, who, async (w) => {
        w.say($localize`Put a row of the Round back in its computed place`);
        await w.change(`DELETE FROM round_place WHERE ${where} AND row_key = :key`, { ...of, key: body.key });
      });
    case 'all-computed':
      return work(services, who, async (w) => {
        w.say($localize`Ordered the Round by cost of waiting again`);
        await w.change(`DELETE FROM round_place WHERE ${where} AND place <> 'top'`, of);
      });
    case 'by-hand':
      return putByHand(services, who, body);
  }
}

/** The places are made of the Round as it is shown; all of them are written, as each stands among the others. */
async function putByHand(
  services: Services,
  who: SignedIn,
  { key, before, isToday }: z.output<typeof asked> & { place: 'by-hand' },
): Promise<void> {
  const tag = await tagOfRound(services, who.id);
  const { places, fixed } = await planPlaces(services, {
    ownerId: who.id,
    tag,
    asked: { key, before, isToday },
  });
  if (fixed) throw new Problem('at-its-time');
  if (places === null) throw new Problem('round-changed');
  const of = { user: bytesOf(who.id), today: todayOf(services, who) };
  await work(services, who, async (w) => {
    w.say($localize`Ordered the Round by hand`);
    await w.change(
      "DELETE FROM round_place WHERE user_id = :user AND on_date = :today AND (place <> 'top' OR row_key = :key)",
      { ...of, key },
    );
    for (const { key: rowKey, order, measure, after, isToday: isAbove } of places)
      await w.change(
        `INSERT INTO round_place (user_id, on_date, row_key, place, hand_order, measure, after_key)
         VALUES (:user, :today, :rowKey, :place, :order, :measure, :after)`,
        { ...of, rowKey, place: isAbove ? 'above' : 'below', order, measure, after },
      );
  });
}
