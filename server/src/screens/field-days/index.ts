export { fieldDaysFeature } from './feature';
