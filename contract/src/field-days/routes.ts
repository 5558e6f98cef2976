import { ok, type RouteSpec } from '../base/route';
import {
  changeMyStart,
  changeRoadSettings,
  fieldDay,
  fieldDayQuery,
  locateSite,
  planFieldDay,
  roadSettings,
} from './schemas';

export const fieldDaysRoutes = {
  fieldDay: {
    access: 'rep',
    summary: 'The visits of a day, where they are, the best order of them, and who could be seen on the way',
    query: fieldDayQuery,
    reply: fieldDay,
  },
  planFieldDay: {
    access: 'rep',
    summary: 'Give the visits of a day their times and ways',
    body: planFieldDay,
    reply: ok,
  },
  locateSite: {
    access: 'rep',
    summary: 'Say by hand where an address is',
    body: locateSite,
    reply: ok,
  },
  changeMyStart: {
    access: 'rep',
    summary: 'Where my days on the road begin and end',
    body: changeMyStart,
    reply: ok,
  },
  roadSettings: { access: 'rep', summary: 'How roads are, and where the office is', reply: roadSettings },
  changeRoadSettings: {
    access: 'admin',
    summary: 'Change how roads are, and where the office is',
    body: changeRoadSettings,
    reply: roadSettings,
  },
} as const satisfies Record<string, RouteSpec>;
