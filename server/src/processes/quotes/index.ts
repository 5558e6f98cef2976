export { quotesFeature } from './feature';
