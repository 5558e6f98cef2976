export { agreementsFeature } from './feature';
export { writeAgreement } from './write-agreement';
