export { roundFeature } from './feature';
