export { apiKeysFeature } from './feature';
