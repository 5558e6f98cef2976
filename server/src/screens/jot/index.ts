export { jotFeature } from './feature';
