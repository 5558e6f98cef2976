export { removalFeature } from './feature';
