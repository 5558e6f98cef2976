import * as z from 'zod';
import { filterGroup } from '../base/grid';
import {
  cadenceId,
  changeSetId,
  hookId,
  ruleFiringId,
  ruleId,
  stageId,
  standingId,
  templateId,
  userId,
} from '../base/ids';
import { amountMinor, instant, line, plainDate, resolved, version } from '../base/values';
import { channel } from '../base/words';
import { cellValue } from '../contacts/schemas';
import { hookEventName } from '../hooks/schemas';
import { ruleActs, ruleDates, ruleEvents, ruleSubjects } from './kinds';

export const ruleSubject = z.enum(ruleSubjects);

const dayCount = (most: number) =>
  z
    .int($localize`must be a whole number of days`)
    .min(1, $localize`must be at least one day`)
    .max(most, $localize`is longer than a rule can wait`);

export const ruleWhen = z.discriminatedUnion('kind', [
  /** `to`: only where it went to one of these; empty is to any. */
  z.object({
    kind: z.literal('event'),
    event: hookEventName,
    to: z.array(z.string().min(1).max(60)).max(30).default([]),
  }),
  /** So many days after a date of the record; before it where they are negative. */
  z.object({ kind: z.literal('date'), date: z.string().max(20), days: z.int().min(-365).max(365) }),
  /** Nobody had contact with a person for so many days. */
  z.object({ kind: z.literal('silence'), days: dayCount(730) }),
  /** A deal is in its stage for so many days. */
  z.object({ kind: z.literal('stage'), days: dayCount(730) }),
]);

export type RuleWhen = z.output<typeof ruleWhen>;

const colleagues = z
  .array(z.union([z.enum(['owner', 'manager']), userId]))
  .min(1, $localize`needs somebody to be told`)
  .max(20);

export const ruleAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('task'),
    channel,
    purpose: line(200),
    inDays: z.int().min(0).max(365),
    minutes: z.int().min(1).max(480).default(6),
    /** Null: whoever owns the record. */
    ownerId: userId.nullable().default(null),
  }),
  z.object({
    kind: z.literal('deal'),
    name: line(120),
    stageId,
    closeInDays: z.int().min(0).max(730),
    amountMinor: amountMinor.nullable().default(null),
  }),
  z.object({
    kind: z.literal('field'),
    field: z
      .string()
      .min(1, $localize`must be chosen`)
      .max(60),
    value: cellValue,
    /** Of a date: so many days after the rule does it, and `value` is not asked. */
    inDays: z.int().min(0).max(730).nullable().default(null),
  }),
  z.object({ kind: z.literal('stage'), stageId }),
  z.object({ kind: z.literal('standing'), standingId }),
  z.object({ kind: z.literal('owner'), ownerId: userId }),
  z.object({ kind: z.literal('tag'), tag: line(40), isTaken: z.boolean().default(false) }),
  z.object({ kind: z.literal('start-cadence'), cadenceId }),
  z.object({ kind: z.literal('stop-cadences') }),
  z.object({
    kind: z.literal('notify'),
    to: colleagues,
    words: line(200),
  }),
  /** A mail in words of its own, to colleagues. */
  z.object({
    kind: z.literal('write'),
    to: colleagues,
    subject: line(120),
    words: z
      .string()
      .trim()
      .min(1, $localize`must not be empty`)
      .max(4000),
  }),
  z.object({ kind: z.literal('mail'), templateId, to: z.enum(['contact', 'owner']) }),
  z.object({ kind: z.literal('text'), templateId }),
  z.object({ kind: z.literal('hook'), hookId }),
  /** The deal about the next term of an agreement, unless it is there. */
  z.object({ kind: z.literal('renewal') }),
]);

export type RuleAct = z.output<typeof ruleAct>;

const fields = {
  name: line(120),
  subject: ruleSubject,
  when: ruleWhen,
  /** The same questions as filters of its list; null asks nothing. */
  if: filterGroup.nullable().default(null),
  then: z
    .array(ruleAct)
    .min(1, $localize`needs at least one thing to do`)
    .max(10),
  isOn: z.boolean(),
  /** Of days on which nothing ran: `catch-up` makes up for them, `skip` does not. */
  missed: z.enum(['catch-up', 'skip']).default('catch-up'),
  /** How often it does something on one day at most. */
  perDay: z.int().min(1).max(5000).default(200),
};

interface Chosen {
  readonly subject: (typeof ruleSubjects)[number];
  readonly when: RuleWhen;
  readonly then: readonly RuleAct[];
}

/** Each subject has events, dates and acts of its own. */
function checkFits({ subject, when, then }: Chosen, context: z.RefinementCtx): void {
  const refuse = (path: (string | number)[], message: string) =>
    context.addIssue({ code: 'custom', path, message });
  const otherKind = $localize`cannot be asked of this kind of record`;
  if (when.kind === 'event' && !ruleEvents[subject].includes(when.event))
    refuse(['when', 'event'], otherKind);
  if (when.kind === 'date' && !Object.hasOwn(ruleDates[subject], when.date))
    refuse(['when', 'date'], otherKind);
  if (when.kind === 'silence' && subject !== 'contact') refuse(['when', 'kind'], otherKind);
  if (when.kind === 'stage' && subject !== 'deal') refuse(['when', 'kind'], otherKind);
  then.forEach((act, at) => {
    if (!ruleActs[subject].includes(act.kind))
      refuse(['then', at, 'kind'], $localize`cannot be done to this kind of record`);
  });
}

export const ruleBody = z.object(fields).superRefine(checkFits);
export type RuleBody = z.output<typeof ruleBody>;

export const changeRule = z.object({ ...fields, version, resolved }).superRefine(checkFits);

export const rule = z.object({
  id: ruleId,
  ...fields,
  /** In whose name it acts: no further than they may. */
  byId: userId,
  byName: z.string(),
  mayChange: z.boolean(),
  onSince: instant.nullable(),
  /** How often it did something in the last 30 days, and when last. */
  fired: z.int(),
  firedAt: instant.nullable(),
  /** Of the last 30 days: refused, stopped in a circle, or over what a day takes. */
  notDone: z.int(),
  version: z.int(),
});

export type Rule = z.infer<typeof rule>;

/** Who begins renewals: the step that ships, or an admin’s rule that is on. */
export const renewalStep = z.object({ ruleId: ruleId.nullable(), ruleName: z.string().nullable() });

/** A rule that ships, to begin from; with the ids of this installation. */
export const ruleOffer = z.object({ key: z.string(), ...fields });
export type RuleOffer = z.infer<typeof ruleOffer>;

export const ruleFiring = z.object({
  id: ruleFiringId,
  at: instant,
  /** The record it was about. */
  recordId: z.uuid(),
  name: z.string(),
  path: z.string(),
  /** What set it off, in words. */
  because: z.string(),
  state: z.enum(['done', 'refused', 'stopped', 'over']),
  /** What it did, or why it did not. */
  words: z.string(),
  /** The change it made, while it can be undone. */
  changeId: changeSetId.nullable(),
  isUndone: z.boolean(),
});

export type RuleFiring = z.infer<typeof ruleFiring>;

export const ruleTrial = z.object({
  /** How often it would have done something. */
  count: z.int(),
  /** On the day with most of them. */
  mostADay: z.int(),
  /** The newest of them. */
  records: z.array(
    z.object({ recordId: z.uuid(), name: z.string(), path: z.string(), on: plainDate, because: z.string() }),
  ),
  /** More happened than was looked at. */
  isCut: z.boolean(),
});

export type RuleTrial = z.infer<typeof ruleTrial>;
