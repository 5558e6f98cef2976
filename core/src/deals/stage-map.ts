/** A stage as far as another one is compared with it. */
export interface ComparedStage {
  readonly id: string;
  readonly name: string;
  readonly winProbability: number;
}

/**
 * The stage of another pipeline that a deal would stand in: the one of the same name, else the one whose win probability is
 * nearest, of equal ones the earlier. Null when there is none.
 */
export function stageLike<Stage extends ComparedStage>(
  from: ComparedStage,
  among: readonly Stage[],
): Stage | null {
  const named = among.find(({ name }) => name.toLowerCase() === from.name.toLowerCase());
  if (named) return named;
  const farness = (stage: Stage) => Math.round(Math.abs(stage.winProbability - from.winProbability) * 10_000);
  return among.reduce<Stage | null>(
    (best, stage) => (best === null || farness(stage) < farness(best) ? stage : best),
    null,
  );
}
