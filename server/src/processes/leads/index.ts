export { leadsFeature } from './feature';
export { addLead } from './add-lead';
export { changeLead } from './change-lead';
export { deriveLeadStatus } from './follow-leads';
export { learnLeadWorth } from './lead-worth';
