export { beginDue } from './day';
export { renewalsFeature } from './feature';
