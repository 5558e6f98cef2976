export { searchFeature } from './feature';
