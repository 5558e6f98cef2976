export { morningFeature } from './feature';
