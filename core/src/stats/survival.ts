import { shareOf, z95 } from './intervals';

/** One case that was watched: for how long, and whether what is waited for happened then or watching merely ended. */
export interface Watched {
  /** Any unit, the same for all; never negative. */
  readonly time: number;
  readonly happened: boolean;
  /** How many there are of this kind; left out, one. */
  readonly count?: number;
}

export interface SurvivalPoint {
  readonly time: number;
  /** Cases still waiting just before. */
  readonly atRisk: number;
  readonly events: number;
  /** The chance that it has not happened by then. */
  readonly survival: number;
}

/**
 * Kaplan-Meier: one point for each time at which something happened. Cases whose watching ends at the same time still
 * count as waiting there.
 * @see Kaplan and Meier, J. Am. Stat. Assoc. 53 (1958), 457-481
 */
export function kaplanMeier(cases: readonly Watched[]): SurvivalPoint[] {
  const ordered = [...cases].sort((a, b) => a.time - b.time);
  const points: SurvivalPoint[] = [];
  let atRisk = ordered.reduce((sum, { count = 1 }) => sum + count, 0);
  let survival = 1;
  for (let at = 0; at < ordered.length;) {
    const { time } = ordered[at]!;
    let ended = 0;
    let events = 0;
    for (; ordered[at]?.time === time; at += 1) {
      const { happened, count = 1 } = ordered[at]!;
      ended += count;
      if (happened) events += count;
    }
    if (events > 0) {
      survival *= 1 - events / atRisk;
      points.push({ time, atRisk, events, survival });
    }
    atRisk -= ended;
  }
  return points;
}

/**
 * The first time by which at least `share` (0 to 1) of the cases have happened; null while that is not reached.
 * `quantileTime(points, 0.5)` is the median.
 */
export function quantileTime(points: readonly SurvivalPoint[], share: number): number | null {
  return points.find((point) => point.survival <= 1 - share + 1e-12)?.time ?? null;
}

/**
 * The standard error of the chance that it has not happened by a time.
 * @see Greenwood, The Natural Duration of Cancer (1926)
 */
export function standardErrorAt(points: readonly SurvivalPoint[], time: number): number {
  const { survival, sum } = until(points, time);
  return survival * Math.sqrt(sum);
}

/**
 * The chance that it has happened by a time, with its 95 % interval on the scale of log(-log), so that it stays within 0 and 1; where none
 * or all of them happened the interval is Wilson's of the cases. Null without a case.
 * @see Kalbfleisch and Prentice, The Statistical Analysis of Failure Time Data (1980)
 * @example happenedBy([{ time: 3, happened: true }, { time: 30, happened: false }], 30)?.value is 0.5
 */
export function happenedBy(
  cases: readonly Watched[],
  time: number,
): { readonly value: number; readonly low: number; readonly high: number } | null {
  const whole = cases.reduce((sum, { count = 1 }) => sum + count, 0);
  if (whole === 0) return null;
  const { survival, sum } = until(kaplanMeier(cases), time);
  if (survival <= 0 || survival >= 1) {
    const { rate, low, high } = shareOf(survival >= 1 ? 0 : whole, whole);
    return { value: rate, low, high };
  }
  const reach = (z95 * Math.sqrt(sum)) / Math.abs(Math.log(survival));
  return {
    value: 1 - survival,
    low: 1 - survival ** Math.exp(-reach),
    high: 1 - survival ** Math.exp(reach),
  };
}

/** Survival at a time, and Greenwood's sum up to it. */
function until(points: readonly SurvivalPoint[], time: number): { survival: number; sum: number } {
  let [survival, sum] = [1, 0];
  for (const point of points) {
    if (point.time > time) break;
    survival = point.survival;
    if (point.atRisk > point.events) sum += point.events / (point.atRisk * (point.atRisk - point.events));
  }
  return { survival, sum };
}
