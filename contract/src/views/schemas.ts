import * as z from 'zod';
import { userId, viewId } from '../base/ids';
import { line, resolved, version } from '../base/values';
import { viewPlaces } from './kinds';

export const viewPlace = z.enum(viewPlaces);

export type ViewPlace = z.infer<typeof viewPlace>;
/** Those that are lists of records. */
export type ListPlace = Exclude<ViewPlace, 'numbers'>;

/** A named address query of a place: filter, columns, order, grouping. */
export const savedView = z.object({
  id: viewId,
  place: viewPlace,
  name: z.string(),
  query: z.string(),
  isShared: z.boolean(),
  isLanding: z.boolean(),
  /** Kept at hand above the list. */
  isFavourite: z.boolean(),
  ownerId: userId,
  ownerName: z.string(),
  version: z.int(),
});

export type SavedView = z.infer<typeof savedView>;

export const saveView = z.object({
  place: viewPlace,
  name: line(60),
  query: z.string().max(4000),
  isShared: z.boolean().default(false),
});

export const changeView = saveView.omit({ place: true }).extend({ version, resolved });

export const pinView = z.object({ isLanding: z.boolean() });

export const favourView = z.object({ isFavourite: z.boolean() });
