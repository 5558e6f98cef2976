export { setupFeature } from './feature';
