import type { LeadStatus } from './schemas';

/** Where a lead stands, in words. */
export const leadStatusLabel: Record<LeadStatus, string> = {
  untried: 'untried',
  trying: 'trying',
  'in-talks': 'in talks',
  qualified: 'qualified',
  'set-aside': 'set aside',
};
