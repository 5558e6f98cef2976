import type { ContactId, DealId, UserId } from '@kettle/contract';

/** Ids of what was written, by the places in the scenario. */
export interface Made {
  readonly users: readonly UserId[];
  readonly contacts: readonly ContactId[];
  readonly companies: readonly string[];
  readonly deals: readonly DealId[];
}
