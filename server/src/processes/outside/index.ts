export { outsideFeature } from './feature';
