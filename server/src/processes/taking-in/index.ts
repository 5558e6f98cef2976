export { takingInFeature } from './feature';
