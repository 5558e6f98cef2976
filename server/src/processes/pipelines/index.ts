export { pipelinesFeature } from './feature';
