export { viewsFeature } from './feature';
