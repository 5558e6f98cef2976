import * as z from 'zod';
import { ruleFiringId, ruleId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { changeRule, renewalStep, rule, ruleBody, ruleFiring, ruleOffer, ruleTrial } from './schemas';

const oneRule = byId.extend({ id: ruleId });

export const rulesRoutes = {
  listRules: {
    access: 'manager',
    summary: 'House rules, how often each did something, and rules to begin from',
    reply: z.object({ rules: z.array(rule), offers: z.array(ruleOffer), renewalStep }),
  },
  addRule: { access: 'manager', summary: 'Write a house rule', body: ruleBody, perHour: 120, reply: rule },
  tryRule: {
    access: 'manager',
    summary: 'What a rule would have done in the last 90 days; nothing is done',
    body: ruleBody,
    perHour: 120,
    reply: ruleTrial,
  },
  changeRule: {
    access: 'manager',
    summary: 'Change a house rule, or switch it on or off',
    params: oneRule,
    body: changeRule,
    reply: rule,
  },
  removeRule: { access: 'manager', summary: 'Remove a house rule', params: oneRule, reply: ok },
  listFirings: {
    access: 'manager',
    summary: 'What a rule did, of what it came and what came of it, newest first',
    params: oneRule,
    reply: z.object({ firings: z.array(ruleFiring), isCut: z.boolean() }),
  },
  undoFiring: {
    access: 'manager',
    summary: 'Undo what a rule did to one record',
    params: oneRule.extend({ firingId: ruleFiringId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
