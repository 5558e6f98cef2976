export { importsFeature } from './feature';
