export { personalDataFeature } from './feature';
