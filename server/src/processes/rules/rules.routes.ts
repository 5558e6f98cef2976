import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readRenewalStep } from '../renewals/index';
import { offeredRules } from './offers';
import { addRule, changeRule, listFirings, listRules, readRule, removeRule, undoFiring } from './rules';
import { tryRule } from './trial';

type Names = 'listRules' | 'addRule' | 'tryRule' | 'changeRule' | 'removeRule' | 'listFirings' | 'undoFiring';

export function rulesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, settings } = services;
  return {
    listRules: async ({ who }) => ({
      rules: await listRules(database, who, clock.now()),
      offers: await offeredRules(database, await settings.read(database)),
      renewalStep: (await readRenewalStep(database)) ?? { ruleId: null, ruleName: null },
    }),
    addRule: async ({ body, who }) => {
      const id = await work(services, who, (w) => addRule(w, body));
      return readRule(database, who, id, clock.now());
    },
    tryRule: ({ body, who }) => tryRule(services, who, body),
    changeRule: async ({ params, body, who }) => {
      await work(services, who, (w) => changeRule(w, params.id, body));
      return readRule(database, who, params.id, clock.now());
    },
    removeRule: async ({ params, who }) => {
      await work(services, who, (w) => removeRule(w, params.id));
      return { ok: true };
    },
    listFirings: ({ params }) => listFirings(database, params.id),
    undoFiring: async ({ params, who }) => {
      await undoFiring(services, who, params.id, params.firingId);
      return { ok: true };
    },
  };
}
