import * as z from 'zod';
import { dealId, viewId } from '../base/ids';
import { plainDate, version } from '../base/values';
import { homeCardKinds } from './kinds';

export const homeCardKind = z.enum(homeCardKinds);

export const homeCard = z.object({
  /** Made by the browser; tells two cards of a kind apart. */
  id: z.uuid(),
  kind: homeCardKind,
  /** Columns of three that it takes. */
  width: z.int().min(1).max(3),
  whose: z.enum(['mine', 'team']).default('mine'),
  /** Of a card that shows a saved view. */
  viewId: viewId.nullable().default(null),
  as: z.enum(['list', 'chart']).default('list'),
});

export type HomeCard = z.output<typeof homeCard>;

export const homeCards = z
  .array(homeCard)
  .max(24, $localize`has room for at most 24 cards; remove one first`)
  .refine((cards) => new Set(cards.map(({ id }) => id)).size === cards.length, {
    message: $localize`has each card once`,
  });

export const home = z.object({
  cards: z.array(homeCard),
  /** Whose arrangement it is: the person's, their role's as an admin set it, or what ships. */
  of: z.enum(['own', 'role', 'shipped']),
  /** Of the person's own arrangement; null while there is none. */
  version: z.int().nullable(),
});

export type Home = z.infer<typeof home>;

export const arrangeHome = z.object({
  cards: homeCards,
  /** As it was seen; null where there was no own arrangement. */
  version: version.nullable(),
});

export const monthForecastQuery = z.object({ whose: z.enum(['mine', 'team']).default('mine') });

export const monthForecast = z.object({
  month: plainDate,
  wonMinor: z.int(),
  /** Open deals that are to close in the month, or should have by now. */
  open: z.int(),
  openMinor: z.int(),
  /** With what is won: the expected sum, and those not exceeded in one, five and nine of ten cases. */
  expectedMinor: z.int(),
  lowMinor: z.int(),
  middleMinor: z.int(),
  highMinor: z.int(),
  quotaMinor: z.int().nullable(),
  /** 0 to 1; null without a quota. */
  quotaChance: z.number().nullable(),
  /** The deals on which most hangs, and the chance of the quota with each won or lost; null without a quota. */
  moves: z.array(
    z.object({
      dealId,
      name: z.string(),
      minor: z.int(),
      chance: z.number(),
      ifWon: z.number().nullable(),
      ifLost: z.number().nullable(),
    }),
  ),
  /** Deals in a currency without a rate, which are in no sum. */
  unconverted: z.int(),
});

export type MonthForecast = z.infer<typeof monthForecast>;
