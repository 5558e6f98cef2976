import * as z from 'zod';
import { agreementId, companyId, contactId, dealId, leadId, taskId, userId } from '../base/ids';
import { instant, line, plainDate } from '../base/values';
import { channel, touchCount } from '../base/words';
import { contact, tetherFacts } from '../contacts';
import { dealRow } from '../deals';
import { journalEntry, outcomeChoice } from '../journal';

export const candidateKind = z.enum([
  'task',
  'step',
  'reply',
  'lead',
  'quiet',
  'renewal',
  'loose',
  'stalled',
  'waking',
  'stirring',
]);

export type CandidateKind = z.infer<typeof candidateKind>;

/** The arithmetic of one row: money in minor units, probabilities 0 to 1. */
export const arithmetic = z.object({
  stakeMinor: z.int(),
  chanceToday: z.number(),
  /** The best later day and the chance then; null when no later day would be worth its minutes. */
  laterOn: plainDate.nullable(),
  chanceLater: z.number(),
  priceOfMinuteMinor: z.number(),
  minutes: z.int(),
  costMinor: z.int(),
  sentence: z.string(),
});

export type Arithmetic = z.infer<typeof arithmetic>;

export const roundRow = z.object({
  /** Stable through the day: kind and record, `task:0198…`. */
  key: z.string(),
  kind: candidateKind,
  channel,
  purpose: z.string(),
  reasons: z.array(z.object({ words: z.string(), pressing: z.boolean() })),
  contactId: contactId.nullable(),
  contactName: z.string(),
  companyName: z.string().nullable(),
  zone: z.string(),
  taskId: taskId.nullable(),
  taskVersion: z.int().nullable(),
  dealId: dealId.nullable(),
  agreementId: agreementId.nullable(),
  fixedAt: instant.nullable(),
  minutes: z.int(),
  due: z.enum(['late', 'today']),
  pinned: z.boolean(),
  /** Put in its place by hand, for the day. */
  placed: z.boolean(),
  tether: tetherFacts,
  arithmetic,
  /** Below the cut line: the day it is proposed to move to, or null when none has room in time. */
  moveTo: plainDate.nullable(),
  willMiss: z.boolean(),
  /** True for an item moved three times or more: asked about, never silently dropped. */
  askToKeep: z.boolean(),
});

export type RoundRow = z.infer<typeof roundRow>;

export const roundFilters = z.object({
  channel: channel.optional(),
  kind: candidateKind.optional(),
  /** Tomorrow shows the next working day's round: what is not in today's. */
  due: z.enum(['late', 'today', 'tomorrow']).optional(),
  owner: userId.optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(150),
});

export const round = z.object({
  on: plainDate,
  asOf: instant,
  ownerId: userId,
  ownerName: z.string(),
  header: z.object({
    done: z.int(),
    doneMinutes: z.int(),
    left: z.int(),
    leftMinutes: z.int(),
    freeMinutes: z.int(),
    reserveMinutes: z.int(),
    meetingsHeld: z.object({ week: z.int(), month: z.int(), quarter: z.int() }),
    quota: z.object({ soldMinor: z.int(), targetMinor: z.int() }).nullable(),
    priceOfMinuteMinor: z.number(),
  }),
  above: z.array(roundRow),
  below: z.array(roundRow),
  /** Rows behind those that were sent, of those that the filter shows. */
  more: z.int(),
  /** Tasks of the next working day. */
  tomorrow: z.int(),
  /** By channel, source and due state over the whole round, so that a filter says what it hides. */
  counts: z.object({
    all: z.int(),
    late: z.int(),
    channels: z.partialRecord(channel, z.int()),
    kinds: z.partialRecord(candidateKind, z.int()),
  }),
  /** Rows whose promised time has passed, or whose deadline no day holds any more. */
  atRisk: z.int(),
  /** How many rows stand where they were put by hand. */
  placed: z.int(),
  /** The day and the working days after it that rows can be moved to, with what is planned on each and what that leaves free. */
  days: z.array(z.object({ on: plainDate, plannedMinutes: z.int(), freeMinutes: z.int() })),
  hidden: z.int(),
});

export type Round = z.infer<typeof round>;

export const walkQuery = z.object({
  taskId: taskId.optional(),
  contactId: contactId.optional(),
  dealId: dealId.optional(),
  channel: channel.optional(),
  /** What is due with the person on the channel is taken for what is logged, unless it is none of what is planned. */
  planned: z.enum(['likely', 'none']).default('none'),
});

/** Everything the walk shows for one item, with the next step already proposed for each outcome. */
export const walkItem = z.object({
  contact,
  deal: dealRow.nullable(),
  companyId: companyId.nullable(),
  channel,
  recent: z.array(journalEntry),
  /** On which channel and in which hour they answer most, in sentences; empty while nothing is known. */
  answersMost: z.array(z.string()),
  /** What an act by the channel takes with them, as learned, and what it takes in general. */
  minutes: z.int(),
  usualMinutes: z.int(),
  choices: z.array(outcomeChoice),
  hasOpenDeal: z.boolean(),
  /** Whether the first question is if it took place at all: a meeting or a visit. */
  asksWhetherHeld: z.boolean(),
  /** What may have been done at it, to tick. */
  checklist: z.array(z.string()),
  /** The task the log will finish. */
  task: z.object({ id: taskId, version: z.int() }).nullable(),
  /** One's own planned steps with the person, soonest first: a log outside the Round may have been one of them. */
  planned: z.array(z.object({ id: taskId, channel, purpose: z.string(), dueOn: plainDate })),
  /** Of a step that is an appointment: when and where, what was noted, and who else comes. */
  appointment: z
    .object({
      startsAt: instant,
      endsAt: instant,
      place: z.string().nullable(),
      note: z.string().nullable(),
      guests: z.array(z.object({ id: contactId, name: z.string() })),
    })
    .nullable(),
});

export type WalkItem = z.infer<typeof walkItem>;

const rowKey = z.string().min(1).max(80);

/** A walk of one's own making: what it goes through, in the order given. */
export const planWalk = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('task'), ids: z.array(taskId).min(1).max(500) }),
  z.object({ kind: z.literal('contact'), ids: z.array(contactId).min(1).max(500) }),
  z.object({ kind: z.literal('deal'), ids: z.array(dealId).min(1).max(500) }),
  z.object({ kind: z.literal('lead'), ids: z.array(leadId).min(1).max(500) }),
]);

export const walkStop = z.object({
  taskId: taskId.nullable(),
  contactId,
  dealId: dealId.nullable(),
  channel,
  minutes: z.int(),
  name: z.string(),
});

export type WalkStop = z.infer<typeof walkStop>;

export const plannedWalk = z.object({
  stops: z.array(walkStop),
  /** How many of those asked for are left out: done, closed, or about nobody. */
  left: z.int(),
});

/** To the top of the day, right before another row, or back to where the computation puts it. */
export const placeRow = z.discriminatedUnion('place', [
  z.object({ place: z.literal('top'), key: rowKey }),
  z.object({
    place: z.literal('by-hand'),
    key: rowKey,
    /** The row it is put before; null for the end. */
    before: rowKey.nullable(),
    /** Whether it is let go above the line where the free minutes end. */
    isToday: z.boolean(),
  }),
  z.object({ place: z.literal('computed'), key: rowKey }),
  /** Every row that was put by hand. */
  z.object({ place: z.literal('all-computed') }),
]);

/** One of the team, as their day stands. */
export const teamMember = z.object({
  id: userId,
  name: z.string(),
  /** Until when they are away, and who works their Round; null while they are here. */
  away: z.object({ until: plainDate, standInName: z.string().nullable() }).nullable(),
  done: z.int(),
  rows: z.int(),
  minutes: z.int(),
  freeMinutes: z.int(),
  /** Minutes of what is due that today does not hold. */
  overMinutes: z.int(),
  late: z.int(),
  atRisk: z.int(),
});

export type TeamMember = z.infer<typeof teamMember>;

/** What giving tasks to somebody does to the days of whoever has them and of whoever gets them. */
export const previewGive = z.object({ ids: z.array(taskId).min(1).max(500), ownerId: userId });

export const givePreview = z.object({
  people: z.array(
    z.object({
      id: userId,
      name: z.string(),
      /** Days of the tasks: late ones are today's. */
      days: z.array(
        z.object({
          on: plainDate,
          plannedMinutes: z.int(),
          /** What is left of the day beside what is planned; less than nothing when it is too much. */
          leftMinutes: z.int(),
          /** Minutes that come to it or go. */
          change: z.int(),
        }),
      ),
    }),
  ),
});

export type GivePreview = z.infer<typeof givePreview>;

export const teamRounds = z.object({ people: z.array(teamMember) });

/** Moves rows below the line to the days proposed for them. */
export const moveRows = z.object({
  rows: z
    .array(
      z.object({
        taskId: taskId.nullable(),
        taskVersion: z.int().nullable(),
        contactId: contactId.nullable(),
        dealId: dealId.nullable(),
        channel,
        purpose: line(200),
        minutes: z.int().min(1).max(480),
        to: plainDate,
      }),
    )
    .min(1)
    .max(1000),
});

export const movedRows = z.object({
  moved: z.int(),
  refused: z.array(z.object({ purpose: z.string(), why: z.string() })),
});

/** What somebody did, from one day of theirs to another, both included; left out, today. */
export const doneQuery = z
  .object({
    from: plainDate.optional(),
    to: plainDate.optional(),
    /** Only meetings and visits that took place. */
    met: z.stringbool().optional(),
    owner: userId.optional(),
  })
  .refine(({ from, to }) => from === undefined || to === undefined || from <= to, {
    path: ['to'],
    message: $localize`must not be before the first day`,
  });

export const doneRow = z.object({
  key: z.string(),
  at: instant,
  channel,
  /** How it went; null for a task that was finished without a word. */
  outcome: z.string().nullable(),
  counts: touchCount,
  /** What it was planned for; null when it was not. */
  purpose: z.string().nullable(),
  minutes: z.int().nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  companyName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
});

export type DoneRow = z.infer<typeof doneRow>;

export const done = z.object({
  from: plainDate,
  to: plainDate,
  /** Newest first. */
  rows: z.array(doneRow),
  /** Of all of them, also of those that are too many to show. */
  total: z.int(),
  minutes: z.int(),
  conversations: z.int(),
});

export type Done = z.infer<typeof done>;

/** Today's order as other settings would make it: the first rows, with where each stands now. Places count from 1. */
export const roundPreview = z.object({
  rows: z.array(
    z.object({
      key: z.string(),
      contactName: z.string(),
      purpose: z.string(),
      was: z.int(),
      becomes: z.int(),
      /** Whether it is above the line where the free minutes end, now and then. */
      wasAbove: z.boolean(),
      isAbove: z.boolean(),
    }),
  ),
  total: z.int(),
  /** How many of all stand elsewhere then. */
  moved: z.int(),
});

export type RoundPreview = z.infer<typeof roundPreview>;
