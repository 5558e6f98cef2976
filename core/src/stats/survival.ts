/** One case that was watched: for how long, and whether what is waited for happened then or watching merely ended. */
export interface Watched {
  /** Any unit, the same for all; never negative. */
  readonly time: number;
  readonly happened: boolean;
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
  let survival = 1;
  for (let at = 0; at < ordered.length;) {
    const { time } = ordered[at]!;
    const atRisk = ordered.length - at;
    let events = 0;
    for (; ordered[at]?.time === time; at += 1) events += ordered[at]!.happened ? 1 : 0;
    if (events === 0) continue;
    survival *= 1 - events / atRisk;
    points.push({ time, atRisk, events, survival });
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
