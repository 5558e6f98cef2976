import { keepAppointments, keepInvited } from './activity/calendar/index';
import { deriveTethers, recountAfterRules } from './activity/touch/index';
import { whatHappened } from './what-happened';
import type { Follows } from './platform/work/work';
import { deriveAgreements } from './processes/agreements/index';
import { handRunsOver } from './processes/cadences/index';
import { deriveDealTouches, moveOnWhenDone } from './processes/deals/index';
import { hearForHooks } from './processes/hooks/index';
import { deriveLeadStatus } from './processes/leads/index';
import { keepCalendars } from './processes/outside-calendars/index';
import { bringBack } from './processes/removal/index';
import { hearForRules } from './processes/rules/index';
import { tellOwners } from './records/notifications/index';
import { deriveCounted } from './records/counted/index';
import { deriveSearchText } from './records/contacts/index';
import { moveRounds } from './screens/round/index';
import { deriveHomeAmounts } from './records/settings/index';

/** What follows from written rows, in this order, in the same transaction. */
export const follows: Follows = {
  whatHappened,
  reactions: [
    keepAppointments,
    handRunsOver,
    bringBack,
    recountAfterRules,
    moveOnWhenDone,
    keepInvited,
    keepCalendars,
  ],
  derivers: [
    deriveAgreements,
    deriveHomeAmounts,
    deriveTethers,
    deriveCounted,
    deriveDealTouches,
    deriveLeadStatus,
    deriveSearchText,
    moveRounds,
  ],
  tellers: [tellOwners],
  hearers: [hearForHooks, hearForRules],
};
