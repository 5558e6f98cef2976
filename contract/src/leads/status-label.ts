import type { LeadStatus } from './schemas';

/** Where a lead stands, in words. */
export const leadStatusLabel: Record<LeadStatus, string> = {
  untried: $localize`untried`,
  trying: $localize`trying`,
  'in-talks': $localize`in talks`,
  qualified: $localize`qualified`,
  'set-aside': $localize`set aside`,
};
