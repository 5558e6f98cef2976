import type { Channel, Outcome } from '@kettle/contract';
import {
  channel,
  countryCode,
  currency,
  outcome as outcomeSchema,
  standingId,
  touchPolicy,
  zoneName,
} from '@kettle/contract';
import { defaultChecklists, defaultOutcomes, defaultTouchPolicy } from '@kettle/core/touch';
import { defaultRoundSettings } from '@kettle/core/round';
import * as z from 'zod';
import type { Queryable } from '../../db/database';

/** Every setting of the organisation with the default that holds until somebody changes it. */
const shapes = {
  organisation: z.object({
    currency: currency.default('GBP'),
    homeCountry: countryCode.default('GB'),
    homeZone: zoneName.default('Europe/London'),
    companyDailyLimit: z.int().min(1).default(3),
  }),
  outcomes: z.object({ list: z.array(outcomeSchema).default(() => [...defaultOutcomes]) }),
  touchPolicy: z.object({
    groups: touchPolicy.shape.groups.default({ ...defaultTouchPolicy.groups }),
    standings: touchPolicy.shape.standings.default({}),
  }),
  checklists: z
    .partialRecord(channel, z.array(z.string()))
    .default({})
    .transform((own): Partial<Record<Channel, string[]>> => {
      const usual = Object.entries(defaultChecklists).map(([kind, lines]) => [kind, [...lines]] as const);
      return { ...Object.fromEntries(usual), ...own };
    }),
  standingBySource: z.object({
    list: z.array(z.object({ source: z.string(), standingId })).default([]),
  }),
  round: z.object({
    p0: z.record(z.string(), z.number().min(0).max(1)).default({ ...defaultRoundSettings.p0 }),
    promiseMinor: z.int().min(0).default(defaultRoundSettings.promiseMinor),
    leadMinor: z.int().min(0).default(defaultRoundSettings.leadMinor),
    silenceLossChance: z.number().min(0).max(1).default(defaultRoundSettings.silenceLossChance),
    renewalDays: z.number().min(0.5).default(defaultRoundSettings.renewalDays),
    reserveMinutes: z.int().min(0).max(480).default(defaultRoundSettings.reserveMinutes),
  }),
};

type Shapes = typeof shapes;
type Name = keyof Shapes;
export type AllSettings = { readonly [Key in Name]: z.output<Shapes[Key]> };

/** Reads the organisation's settings; a row that does not parse is a fault, not a default. */
export class Settings {
  async read(db: Queryable): Promise<AllSettings> {
    const rows = await db.rows<{ name: string; value: string }>(
      'SELECT name, value FROM setting ORDER BY name',
    );
    const stored = new Map(rows.map((row) => [row.name, JSON.parse(row.value) as unknown]));
    const read = <Key extends Name>(name: Key) =>
      shapes[name].parse(stored.get(name) ?? {}) as AllSettings[Key];
    return {
      organisation: read('organisation'),
      outcomes: read('outcomes'),
      touchPolicy: read('touchPolicy'),
      checklists: read('checklists'),
      standingBySource: read('standingBySource'),
      round: read('round'),
    };
  }
}

export function outcomeNamed(settings: AllSettings, id: string): Outcome | undefined {
  return settings.outcomes.list.find((outcome) => outcome.id === id);
}
