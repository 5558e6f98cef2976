export { wordingsFeature } from './feature';
