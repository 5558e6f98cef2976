import * as z from 'zod';
import { appointmentId, companyId, contactId, siteId, taskId, userId } from '../base/ids';
import { line, minuteOfDay, plainDate, resolved, version } from '../base/values';
import { candidateKind } from '../round';

/** A place on the earth, in degrees: north and east are positive. */
export const point = z.object({
  latitude: z
    .number()
    .min(-90, $localize`must be between -90 and 90`)
    .max(90, $localize`must be between -90 and 90`),
  longitude: z
    .number()
    .min(-180, $localize`must be between -180 and 180`)
    .max(180, $localize`must be between -180 and 180`),
});

export const namedPoint = point.extend({ words: line(160) });

export type NamedPoint = z.infer<typeof namedPoint>;

/** Where an address is: said by hand, or as its postcode says. */
const known = z.object({ point, isByHand: z.boolean() }).nullable();

/** The address of a person's company or site; null of whoever has none. */
const address = z.object({ companyId, siteId: siteId.nullable(), words: z.string(), known }).nullable();

export type FieldAddress = z.infer<typeof address>;

export const fieldStop = z.object({
  key: z.string(),
  taskId: taskId.nullable(),
  taskVersion: z.int().nullable(),
  appointmentId: appointmentId.nullable(),
  contactId: contactId.nullable(),
  /** Whom it is with, or what it is. */
  name: z.string(),
  companyName: z.string().nullable(),
  purpose: z.string(),
  minutes: z.int(),
  /** The minute of the day it was promised for; null when any time will do. */
  promisedAt: minuteOfDay.nullable(),
  address,
  /** When they are there, in minutes of the rep's day; empty when they are off; null when nobody knows. */
  opens: z.array(z.object({ from: z.int(), to: z.int() })).nullable(),
});

export type FieldStop = z.infer<typeof fieldStop>;

/** Somebody who could be visited on the way. */
export const nearby = z.object({
  key: z.string(),
  kind: candidateKind,
  contactId,
  name: z.string(),
  companyName: z.string().nullable(),
  reason: z.string(),
  point,
  /** What leaving it costs, in minor units, and how long a visit takes. */
  costMinor: z.int(),
  minutes: z.int(),
});

export type Nearby = z.infer<typeof nearby>;

export const roads = z.object({
  /** By how much roads are longer than the straight line. */
  factor: z
    .number()
    .min(1, $localize`must be at least 1`)
    .max(5, $localize`must be at most 5`),
  kilometresAnHour: z.int().min(5).max(130),
  parkingMinutes: z.int().min(0).max(60),
});

export const roadSettings = roads.extend({
  version: z.int(),
  /** Where days on the road can begin and end besides at home. */
  office: namedPoint.nullable(),
});

export type RoadSettings = z.infer<typeof roadSettings>;

export const changeRoadSettings = roadSettings.extend({ resolved });

export const fieldDay = z.object({
  on: plainDate,
  ownerId: userId,
  zone: z.string(),
  /** Minutes of the day at which the rep's hours begin and end; null on a day off. */
  hours: z.object({ from: z.int(), to: z.int() }).nullable(),
  /** Where the days of the rep begin, if that was said, and the office. */
  home: namedPoint.nullable(),
  office: namedPoint.nullable(),
  roads,
  stops: z.array(fieldStop),
  /** When the rep is busy with something else, in minutes of the day. */
  busy: z.array(z.object({ from: z.int(), to: z.int(), title: z.string() })),
  /** Keys of the stops in the order that is best. */
  best: z.array(z.string()),
  near: z.array(nearby),
});

export type FieldDay = z.infer<typeof fieldDay>;

export const fieldDayQuery = z.object({
  on: plainDate.optional(),
  owner: userId.optional(),
  /** Where it begins and ends; left out, at home, or at the office when home is not known. */
  from: z.enum(['home', 'office']).optional(),
  to: z.enum(['home', 'office']).optional(),
});

/** Times for visits, as a course came to them. */
export const planFieldDay = z.object({
  on: plainDate,
  visits: z
    .array(
      z.object({
        taskId,
        version,
        startMinute: minuteOfDay,
        travelMinutes: z.int().min(0).max(600),
        travelAfterMinutes: z.int().min(0).max(600),
      }),
    )
    .min(1)
    .max(25),
});

export const locateSite = z.object({
  companyId,
  /** Null for the main site. */
  siteId: siteId.nullable(),
  /** Null goes back to what the postcode says. */
  point: point.nullable(),
});

export const changeMyStart = z.object({ start: namedPoint.nullable() });
