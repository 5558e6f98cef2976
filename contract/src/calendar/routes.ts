import * as z from 'zod';
import { meetingId, userId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { plainDate } from '../base/values';
import { createMeeting, spine, spineBlock } from './schemas';

export const calendarRoutes = {
  spine: {
    access: 'rep',
    summary: 'Hours, meetings and gaps of a day',
    query: z.object({ on: plainDate.optional(), owner: userId.optional() }),
    reply: spine,
  },
  createMeeting: {
    access: 'rep',
    summary: 'Put a meeting on my day',
    body: createMeeting,
    reply: spineBlock,
  },
  removeMeeting: {
    access: 'rep',
    summary: 'Take a meeting off my day',
    params: byId.extend({ id: meetingId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
