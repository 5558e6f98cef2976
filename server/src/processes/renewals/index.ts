export { beginDue } from './day';
export { renewalsFeature } from './feature';
export { beginAsked } from './open-renewal';
export { readRenewalStep } from './renewal-step';
export { retentionOf, retentionRecordsOf } from './reports';
