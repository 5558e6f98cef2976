export { bulkFeature } from './feature';
