import * as z from 'zod';
import { standingId } from '../base/ids';
import { outcome } from '../base/outcomes';
import { line, resolved } from '../base/values';
import { channel, standingGroup } from '../base/words';

/** Which tries count as a touch: all, none, or those with one of these outcomes. Conversations always count. */
export const touchRule = z.union([z.enum(['all', 'none']), z.array(z.string()).max(60)]);

export type TouchRule = z.infer<typeof touchRule>;

export const touchPolicy = z.object({
  groups: z.object({ prospect: touchRule, customer: touchRule, former: touchRule }),
  /** Standings that differ from their group. */
  standings: z.record(z.uuid(), touchRule),
});

export const journalSettings = z.object({
  /** Adds one with every change of any of these settings. */
  version: z.int(),
  outcomes: z.array(outcome),
  touchPolicy,
  checklists: z.partialRecord(channel, z.array(z.string())),
  /** The standing a new contact gets, by source. */
  standingBySource: z.array(z.object({ source: z.string(), standingId })),
});

export type JournalSettings = z.infer<typeof journalSettings>;

export const changeJournalSettings = z.object({
  version: z.int(),
  resolved,
  outcomes: z.array(outcome).min(1).max(80),
  touchPolicy,
  checklists: z.partialRecord(channel, z.array(line(80)).max(20)),
  standingBySource: z.array(z.object({ source: line(160), standingId })).max(60),
});

const standingFields = {
  name: line(60),
  group: standingGroup,
  checkInDays: z.int().min(1).max(730).nullable(),
  isDefault: z.boolean(),
};

export const saveStandings = z.object({
  /** The standings as they were read: what others changed since is told from what is changed now. */
  seen: z.array(z.object({ ...standingFields, id: standingId })).max(200),
  resolved,
  /** In their order. A standing without an id is new. */
  standings: z
    .array(z.object({ ...standingFields, id: standingId.nullable() }))
    .min(1)
    .max(40)
    .refine(
      (all) => all.filter((each) => each.isDefault).length === 1,
      $localize`exactly one is given to new contacts`,
    ),
  /** Where the contacts of a standing that goes are to be. */
  homes: z
    .array(z.object({ from: standingId, to: standingId }))
    .max(40)
    .default([]),
});

export type SaveStandings = z.output<typeof saveStandings>;
