/** Things that were foretold with one chance, and how many of them came true. */
export interface Foretold {
  /** 0 to 1. */
  readonly chance: number;
  readonly count: number;
  readonly happened: number;
}

export interface Calibration {
  /** Brier's score: the mean of (chance − outcome)², 0 for perfect foresight, 0.25 for always saying one half. */
  readonly score: number;
  /** How far chances are from what came of them: 0 where they are right. */
  readonly reliability: number;
  /** How far what came differs from one chance to another: the more the better. */
  readonly resolution: number;
  /** What nobody can help: p(1 − p) of the share that came true. */
  readonly uncertainty: number;
}

/**
 * How well chances foretold what came. The score is that of Brier, “Verification of forecasts expressed in terms of probability”, Monthly
 * Weather Review 78 (1950), for two outcomes and counted once; its parts are those of Murphy, “A new vector partition of the probability
 * score”, Journal of Applied Meteorology 12 (1973): score = reliability − resolution + uncertainty, where equal chances are one group.
 * @returns null where nothing was foretold
 * @example calibrationOf([{ chance: 0.7, count: 10, happened: 7 }]) has the reliability 0 and the score 0.21
 */
export function calibrationOf(groups: readonly Foretold[]): Calibration | null {
  const merged = new Map<number, { count: number; happened: number }>();
  for (const { chance, count, happened } of groups) {
    const known = merged.get(chance) ?? { count: 0, happened: 0 };
    merged.set(chance, { count: known.count + count, happened: known.happened + happened });
  }
  const all = [...merged].filter(([, { count }]) => count > 0);
  const total = all.reduce((sum, [, { count }]) => sum + count, 0);
  if (total === 0) return null;
  const mean = all.reduce((sum, [, { happened }]) => sum + happened, 0) / total;
  const over = (part: (chance: number, count: number, happened: number) => number) =>
    all.reduce((sum, [chance, { count, happened }]) => sum + part(chance, count, happened), 0) / total;
  return {
    score: over((chance, count, happened) => happened * (1 - chance) ** 2 + (count - happened) * chance ** 2),
    reliability: over((chance, count, happened) => count * (chance - happened / count) ** 2),
    resolution: over((_, count, happened) => count * (happened / count - mean) ** 2),
    uncertainty: mean * (1 - mean),
  };
}
