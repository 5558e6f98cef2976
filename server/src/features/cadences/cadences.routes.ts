import type { Handlers } from '../../http/bind-routes';
import { Problem } from '../../http/problem';
import { newId } from '../../ids';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { refreshNextSteps } from '../journal/next-steps';
import { assertMayChange } from '../session/rights';
import { applyEvent } from './apply-event';
import { insertCadence, listCadences } from './cadence-rows';
import { readRun, readRunsOf, runSummaryOf } from './run-rows';
import { planStart, startRuns } from './start-runs';

type Names = 'listCadences' | 'createCadence' | 'planStart' | 'startRuns' | 'listRuns' | 'changeRun';

export function cadencesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, feed, settings } = services;
  return {
    listCadences: async () => ({ cadences: await listCadences(database) }),
    createCadence: async ({ body, who }) => {
      const id = await database.transaction(async (tx) => {
        const made = await insertCadence(tx, body.name, body.definition, clock.now());
        await noteChange(tx, 'cadence', made, who.id);
        return made;
      });
      feed.poke();
      const made = (await listCadences(database)).find((cadence) => cadence.id === id);
      if (!made) throw new Problem('not-found');
      return made;
    },
    planStart: ({ who, params, body }) => planStart(services, who, params.id, body.contactIds),
    startRuns: ({ who, params, body }) => startRuns(services, who, { ...body, cadenceId: params.id }),
    listRuns: async ({ query }) => ({
      runs: (await readRunsOf(database, query.contactId, 'all')).map(runSummaryOf),
    }),
    changeRun: async ({ who, params, body }) => {
      const changed = await database.transaction(async (tx) => {
        const stored = await readRun(tx, params.id);
        if (!stored) throw new Problem('not-found');
        await assertMayChange(tx, who, stored.ownerId);
        if (stored.version !== body.version)
          throw new Problem('stale', {}, { current: runSummaryOf(stored) });
        if (stored.run.status !== 'running' && stored.run.status !== 'paused')
          throw new Problem('run-not-active');
        const base = { id: `by-hand:${newId<string>()}`, at: clock.now() };
        const events = {
          pause: { ...base, kind: 'paused', until: null },
          resume: { ...base, kind: 'resumed' },
          stop: { ...base, kind: 'stopped', reason: `stopped by ${who.name}` },
        } as const;
        await applyEvent(tx, services, await settings.read(tx), stored, events[body.change], who.id);
        await refreshNextSteps(tx, { contactIds: [stored.contactId], dealIds: [stored.dealId] }, clock.now());
        const now = await readRun(tx, params.id);
        if (!now) throw new Problem('not-found');
        return runSummaryOf(now);
      });
      feed.poke();
      return changed;
    },
  };
}
