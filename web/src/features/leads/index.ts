export { LeadFacts } from './lead-facts';
export { LeadLines } from './lead-lines';
