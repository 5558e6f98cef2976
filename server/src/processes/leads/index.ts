export { leadsFeature } from './feature';
export { addLead, createLead } from './add-lead';
export { changeLead } from './change-lead';
export { readLead, readLeadRows } from './lead-rows';
export { deriveLeadStatus } from './follow-leads';
export { leadSql } from './list-leads';
export { learnLeadWorth } from './lead-worth';
export { leadFacts } from './drop-off';
