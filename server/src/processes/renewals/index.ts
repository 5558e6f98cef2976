export { renewalsFeature } from './feature';
