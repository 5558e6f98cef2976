import * as z from 'zod';
import { contactId, meetingId } from '../base/ids';
import { instant, line, plainDate } from '../base/values';

export const spineBlock = z.object({
  id: meetingId,
  title: z.string(),
  place: z.string().nullable(),
  startsAt: instant,
  endsAt: instant,
  travelMinutes: z.int(),
});

export type SpineBlock = z.infer<typeof spineBlock>;

export const spine = z.object({
  on: plainDate,
  dayStart: instant,
  dayEnd: instant,
  blocks: z.array(spineBlock),
  gaps: z.array(z.object({ from: instant, to: instant, minutes: z.int() })),
  promises: z.array(z.object({ at: instant, words: z.string(), minutes: z.int() })),
});

export type Spine = z.infer<typeof spine>;

export const createMeeting = z
  .object({
    title: line(160),
    place: z.string().trim().max(160).nullable().default(null),
    startsAt: instant,
    endsAt: instant,
    travelMinutes: z.int().min(0).max(480).default(0),
    contactId: contactId.nullable().default(null),
  })
  .refine((meeting) => meeting.startsAt < meeting.endsAt, {
    message: $localize`a meeting must end after it starts`,
    path: ['endsAt'],
  });
