import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { assertMayChange } from '../../records/rights/index';
import { listStirrings, readStirring } from './stirrings';
import { work } from '../../platform/work/work';

export function stirringsRoutes(services: Services): Pick<Handlers, 'listStirrings' | 'handleStirring'> {
  const { database, clock } = services;
  return {
    listStirrings: ({ query, who }) => listStirrings(database, who, query),
    handleStirring: async ({ params, body, who }) => {
      const done = await work(services, who, async (w) => {
        const { ownerId, ...current } = await readStirring(w, params.id);
        await assertMayChange(w, who, ownerId);
        const changed = await w.change(
          `UPDATE stirring SET handled_at = :at, handled_by = :user, version = version + 1
            WHERE id = :id AND version = :version`,
          {
            id: bytesOf(params.id),
            version: body.version,
            at: body.isHandled ? sqlInstant(clock.now()) : null,
            user: body.isHandled ? bytesOf(who.id) : null,
          },
        );
        if (changed === 0) throw new Problem('stale', {}, { current });
        const { ownerId: _owner, ...now } = await readStirring(w, params.id);
        return now;
      });
      return done;
    },
  };
}
