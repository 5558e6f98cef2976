export { homeFeature } from './feature';
