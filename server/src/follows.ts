import { deriveNextSteps } from './activity/touch/next-steps';
import { deriveTouchFacts } from './activity/touch/touch-facts';
import type { Follows } from './platform/work/work';
import { handRunsOver } from './processes/cadences/follow-owner';
import { deriveDealTouches } from './processes/deals/touch-deals';
import { deriveLeadStatus } from './processes/leads/follow-leads';
import { deriveSearchText } from './records/contacts/derive-search';

/** What follows from written rows, in this order, in the same transaction. */
export const follows: Follows = {
  reactions: [handRunsOver],
  derivers: [deriveTouchFacts, deriveDealTouches, deriveLeadStatus, deriveNextSteps, deriveSearchText],
};
