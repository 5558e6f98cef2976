import type { Channel, Outcome } from '@kettle/contract';
import {
  accountsSettings,
  retentionSettings,
  channel,
  countryCode,
  currency,
  organisationSettings,
  outcome as outcomeSchema,
  ownerRule,
  rightsSettings,
  roadSettings,
  roundSettings,
  sellingSettings,
  setupStep,
  standingId,
  touchPolicy,
  zoneName,
} from '@kettle/contract';
import { usualMinutes } from '@kettle/contract/base/channels';
import { defaultChecklists, defaultOutcomes, defaultTouchPolicy } from '@kettle/core/touch';
import { usualRoads } from '@kettle/core/route';
import { defaultRoundSettings } from '@kettle/core/round';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';

/** The parts of an object that are not stored are null: what is learned counts. */
const learnedUnless = <Shape extends z.ZodObject>(shape: Shape) =>
  z
    .unknown()
    .optional()
    .transform((stored) => {
      const none = Object.fromEntries(Object.keys(shape.shape).map((name) => [name, null]));
      return shape.parse({ ...none, ...(stored as object | undefined) });
    });

/** Every setting of the organisation with the default that holds until somebody changes it. */
const shapes = {
  organisation: z.object({
    version: z.int().default(1),
    name: organisationSettings.shape.name.default(''),
    currency: currency.default('GBP'),
    homeCountry: countryCode.default('GB'),
    homeZone: zoneName.default('Europe/London'),
    companyDailyLimit: z.int().min(1).default(3),
    regions: z.record(z.string(), z.string()).default({}),
    halfDaysOff: z.boolean().default(false),
    ownDaysOff: organisationSettings.shape.ownDaysOff.default([]),
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
  mail: z.object({
    dailyLimit: z.int().default(150),
    paceSeconds: z.int().default(20),
    tracksOpens: z.boolean().default(true),
    tracksClicks: z.boolean().default(true),
    graceSeconds: z.int().default(10),
    version: z.int().default(1),
  }),
  closeReasons: z.object({
    version: z.int().default(1),
    won: z.array(z.string()).default(['price', 'service', 'known to them', 'quick to install']),
    lost: z.array(z.string()).default(['price', 'another supplier', 'no budget', 'no need', 'no answer']),
    parked: z.array(z.string()).default(['next budget year', 'building work first', 'contract runs on']),
    aside: z.array(z.string()).default(['no need', 'too small', 'wrong region', 'no answer', 'a double']),
    wonNeedsReason: z.boolean().default(false),
  }),
  accounts: z.object({
    version: z.int().default(1),
    idleHours: accountsSettings.shape.idleHours.default(12),
    absoluteDays: accountsSettings.shape.absoluteDays.default(14),
    secondFactorFrom: accountsSettings.shape.secondFactorFrom.default('nobody'),
  }),
  rights: z.object({
    version: z.int().default(1),
    reading: rightsSettings.shape.reading.default('all'),
    sharing: rightsSettings.shape.sharing.default('deal-team'),
    exports: rightsSettings.shape.exports.default('rep'),
    releases: rightsSettings.shape.releases.default('manager'),
  }),
  retention: z.object({
    version: z.int().default(1),
    letGoMail: retentionSettings.shape.letGoMail.default(365),
    rawMail: retentionSettings.shape.rawMail.default(180),
    removed: retentionSettings.shape.removed.default(365),
    unknownCalls: retentionSettings.shape.unknownCalls.default(180),
    notifications: retentionSettings.shape.notifications.default(180),
    setAsideLeads: retentionSettings.shape.setAsideLeads.default(null),
    securityLog: retentionSettings.shape.securityLog.default(400),
  }),
  selling: z.object({
    version: z.int().default(1),
    street: sellingSettings.shape.street.default(''),
    postcode: sellingSettings.shape.postcode.default(''),
    city: sellingSettings.shape.city.default(''),
    vatId: sellingSettings.shape.vatId.default(''),
    email: sellingSettings.shape.email.default(''),
    payment: sellingSettings.shape.payment.default(''),
    taxPercent: sellingSettings.shape.taxPercent.default(20),
    validDays: sellingSettings.shape.validDays.default(30),
    paymentDays: sellingSettings.shape.paymentDays.default(30),
    remindDays: sellingSettings.shape.remindDays.default(5),
    intro: sellingSettings.shape.intro.default(''),
    closing: sellingSettings.shape.closing.default(''),
    blocks: sellingSettings.shape.blocks.default([]),
  }),
  setup: z.object({ version: z.int().default(1), skipped: z.array(setupStep).default([]) }),
  leads: z.object({ version: z.int().default(1), ownerRule: ownerRule.default({ kind: 'pool' }) }),
  roads: z.object({
    version: z.int().default(1),
    office: roadSettings.shape.office.default(null),
    factor: roadSettings.shape.factor.default(usualRoads.factor),
    kilometresAnHour: roadSettings.shape.kilometresAnHour.default(usualRoads.kilometresAnHour),
    parkingMinutes: roadSettings.shape.parkingMinutes.default(usualRoads.parkingMinutes),
  }),
  round: z.object({
    version: z.int().default(1),
    p0: learnedUnless(roundSettings.shape.p0),
    halfDays: learnedUnless(roundSettings.shape.halfDays),
    promiseMinor: roundSettings.shape.promiseMinor.default(null),
    leadMinor: roundSettings.shape.leadMinor.default(null),
    silenceLossChance: roundSettings.shape.silenceLossChance.default(null),
    renewalHalfDays: roundSettings.shape.renewalHalfDays.default(null),
    renewalLastDay: roundSettings.shape.renewalLastDay.default(null),
    dealFloor: roundSettings.shape.dealFloor.default(null),
    reserveMinutes: z.int().min(0).max(480).default(defaultRoundSettings.reserveMinutes),
    minutes: roundSettings.shape.minutes
      .partial()
      .default({})
      .transform((own) => ({ ...usualMinutes, ...own })),
  }),
};

type Shapes = typeof shapes;
type Name = keyof Shapes;
export type AllSettings = { readonly [Key in Name]: z.output<Shapes[Key]> };

/** A setting as its stored text has it; without one, the default. */
export const settingOf = <Key extends Name>(name: Key, text: string | undefined) =>
  shapes[name].parse(text === undefined ? {} : JSON.parse(text)) as AllSettings[Key];

/** Reads the organisation's settings; a row that does not parse is a fault, not a default. */
export class Settings {
  /** What each stored text means, so that it is parsed again only when it changed. */
  private readonly parsed = new Map<Name, { text: string | undefined; value: unknown }>();

  async read(db: Queryable): Promise<AllSettings> {
    const rows = await db.rows<Row<'setting', 'name' | 'value'>>(
      'SELECT name, value FROM setting ORDER BY name',
    );
    const stored = new Map(rows.map((row) => [row.name, row.value]));
    const read = <Key extends Name>(name: Key) => {
      const text = stored.get(name);
      const known = this.parsed.get(name);
      if (known && known.text === text) return known.value as AllSettings[Key];
      const value = settingOf(name, text);
      this.parsed.set(name, { text, value });
      return value;
    };
    return {
      organisation: read('organisation'),
      outcomes: read('outcomes'),
      touchPolicy: read('touchPolicy'),
      checklists: read('checklists'),
      standingBySource: read('standingBySource'),
      mail: read('mail'),
      closeReasons: read('closeReasons'),
      accounts: read('accounts'),
      retention: read('retention'),
      rights: read('rights'),
      setup: read('setup'),
      leads: read('leads'),
      roads: read('roads'),
      round: read('round'),
      selling: read('selling'),
    };
  }
}

export function outcomeNamed(settings: AllSettings, id: string): Outcome | undefined {
  return settings.outcomes.list.find((outcome) => outcome.id === id);
}
