import { JsonReply, type Handlers } from '../../platform/http/bind-routes';
import { isUnchanged } from '../../platform/http/unchanged';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { localDate } from '@kettle/core/time';
import { readPerson, todayOf } from '../../records/users/index';
import { dayOwner } from '../../records/rights/index';
import { readChances } from './chances';
import { moveRoundRows } from './move-rows';
import { readDone } from './read-done';
import { previewRound } from './preview-round';
import { readKeptRound, tagOfRound } from './kept-rounds';
import { readWalkItem } from './walk-item';
import { work } from '../../platform/work/work';

export function roundRoutes(
  services: Services,
): Pick<
  Handlers,
  'round' | 'walkItem' | 'whatIsDone' | 'placeRow' | 'moveRows' | 'learnedValues' | 'previewRound'
> {
  const { database } = services;
  return {
    round: async ({ query, who, request, response }) => {
      const ownerId = dayOwner(who, query.owner);
      const tag = await tagOfRound(services, ownerId);
      if (isUnchanged(request, response, tag)) return 'answered';
      return new JsonReply(await readKeptRound(services, { ownerId, tag, filters: query }));
    },
    walkItem: ({ query, who }) => readWalkItem(services, who, query),
    whatIsDone: async ({ query, who }) => {
      const { id: ownerId, zone } = await readPerson(database, dayOwner(who, query.owner));
      const today = localDate(services.clock.now(), zone);
      const from = query.from ?? query.to ?? today;
      const to = query.to ?? (from > today ? from : today);
      return readDone(database, { ownerId, from, to, zone, isMet: query.met ?? false });
    },
    learnedValues: async () => {
      const { organisation } = await services.settings.read(database);
      return { values: await readChances(database, organisation.currency) };
    },
    previewRound: ({ body, query, who }) => previewRound(services, dayOwner(who, query.owner), body),
    moveRows: ({ body, who }) => moveRoundRows(services, who, body.rows),
    placeRow: async ({ body, who }) => {
      const place = { user: bytesOf(who.id), today: todayOf(services, who), key: body.key };
      await work(services, who, async (w) => {
        if (body.place === 'pin')
          await w.change(
            'INSERT IGNORE INTO round_place (user_id, on_date, row_key) VALUES (:user, :today, :key)',
            place,
          );
        else
          await w.change(
            'DELETE FROM round_place WHERE user_id = :user AND on_date = :today AND row_key = :key',
            place,
          );
      });
      return { ok: true };
    },
  };
}
