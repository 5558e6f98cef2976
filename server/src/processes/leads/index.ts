export { leadsFeature } from './feature';
export { addLead } from './add-lead';
export { deriveLeadStatus } from './follow-leads';
export { learnLeadWorth } from './lead-worth';
