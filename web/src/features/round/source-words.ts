import type { CandidateKind } from '@kettle/contract';

/** Where rows of the Round come from, as a filter names them. */
export const sourceWords: Readonly<Record<CandidateKind, string>> = {
  task: $localize`tasks`,
  step: $localize`cadence steps`,
  reply: $localize`replies`,
  lead: $localize`leads`,
  quiet: $localize`quiet people`,
  renewal: $localize`renewals`,
  loose: $localize`loose deals`,
  stalled: $localize`stalled deals`,
  waking: $localize`what wakes`,
  stirring: $localize`signs of life`,
};
