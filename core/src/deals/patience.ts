import { kaplanMeier, quantileTime } from '../stats';

/** One stay of a deal in a stage. */
export interface StageStay {
  /** Whole days it was there, until it went on or until today. */
  readonly days: number;
  /** It went on from there; false while an open deal is still in it. */
  readonly wentOn: boolean;
}

export interface SuggestedPatience {
  /** The day by which `share` of the deals have gone on; null while too few have. */
  readonly days: number | null;
  readonly wentOn: number;
  readonly stillThere: number;
}

const usualShare = 0.8;
const fewestCases = 10;

/**
 * How long to wait before a deal in a stage counts as stalled: the 80th percentile of the time that deals took to go on,
 * with those still there counted as not yet gone on. A plain mean of the finished stays would come out too short, as the
 * slow ones are missing from it. Nothing is suggested before ten have gone on.
 *
 * Product-limit estimate: Kaplan and Meier 1958, J. Am. Stat. Assoc. 53, 457–481.
 */
export function suggestPatience(stays: readonly StageStay[], share = usualShare): SuggestedPatience {
  const wentOn = stays.filter((stay) => stay.wentOn).length;
  const counts = { wentOn, stillThere: stays.length - wentOn };
  if (wentOn < fewestCases) return { days: null, ...counts };
  const points = kaplanMeier(stays.map(({ days, wentOn: happened }) => ({ time: days, happened })));
  const days = quantileTime(points, share);
  return { days: days === null ? null : Math.max(1, days), ...counts };
}
