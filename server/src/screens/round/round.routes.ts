import { JsonReply, type Handlers } from '../../platform/http/bind-routes';
import { isUnchanged } from '../../platform/http/unchanged';
import type { Services } from '../../platform/services';
import { localDate } from '@kettle/core/time';
import { readPerson } from '../../records/users/index';
import { dayOwner } from '../../records/rights/index';
import { readChances } from './chances';
import { moveRoundRows } from './move-rows';
import { readDone } from './read-done';
import { placeRow } from './place-row';
import { previewRound } from './preview-round';
import { readKeptRound, tagOfRound } from './kept-rounds';
import { planWalk } from './plan-walk';
import { readTeam } from './read-team';
import { previewGive } from './preview-give';
import { readWalkItem } from './walk-item';

export function roundRoutes(
  services: Services,
): Pick<
  Handlers,
  | 'round'
  | 'walkItem'
  | 'planWalk'
  | 'previewGive'
  | 'teamRounds'
  | 'whatIsDone'
  | 'placeRow'
  | 'moveRows'
  | 'learnedValues'
  | 'previewRound'
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
    teamRounds: async ({ who }) => ({ people: await readTeam(services, who) }),
    previewGive: ({ body, who }) => previewGive(services, who, body),
    planWalk: ({ body }) => planWalk(services, body),
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
      await placeRow(services, who, body);
      return { ok: true };
    },
  };
}
