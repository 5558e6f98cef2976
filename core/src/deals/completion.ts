import type { DealRow } from '@kettle/contract';
import { mostNotches } from '@kettle/contract/base/notches';

export interface Progress {
  readonly status: DealRow['status'];
  /** Stages of the pipeline that lie behind the deal. */
  readonly stagesDone: number;
  /** Stages of the pipeline, at least one. */
  readonly stages: number;
  readonly notches: number;
}

/**
 * How far a deal is along its pipeline, 0 to 1: the stages behind it, and of the one it is in a fifth for each notch (the fifth fifth is
 * leaving it). A won deal is complete, a lost or parked one is where it stood.
 * @example completionOf({ status: 'open', stagesDone: 1, stages: 4, notches: 2 }); // 0.35
 */
export function completionOf({ status, stagesDone, stages, notches }: Progress): number {
  return status === 'won' ? 1 : (stagesDone + notches / (mostNotches + 1)) / stages;
}

/** The place of a stage among those of its pipeline, for `completionOf`; of a stage that is none of them, the first. */
export function placeOf(
  stageId: string,
  stages: readonly { readonly id: string }[],
): Pick<Progress, 'stagesDone' | 'stages'> {
  return {
    stagesDone: Math.max(
      0,
      stages.findIndex(({ id }) => id === stageId),
    ),
    stages: Math.max(1, stages.length),
  };
}
