import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { ruleLetterKind, ruleMailKind } from './acts';
import { fireKind, fireRule } from './fire';
import { matchKind } from './hear';
import { matchRules } from './match';
import { ruleLetter, ruleMail } from './rule-mail';
import { rulesRoutes } from './rules.routes';
import { dueLooks, lookKind, lookRule } from './times';

export const rulesFeature = {
  name: 'rules',
  routes: rulesRoutes,
  jobs: (services) => ({
    ...{ [matchKind]: matchRules, [fireKind]: fireRule, [lookKind]: lookRule },
    [ruleMailKind]: ruleMail(services),
    [ruleLetterKind]: ruleLetter(services),
  }),
  daily: dueLooks,
  swept: [`DELETE FROM rule_firing WHERE at < :now - INTERVAL 365 DAY ORDER BY at LIMIT ${sweptAtOnce}`],
} satisfies Feature;
