export { invoicesFeature } from './feature';
