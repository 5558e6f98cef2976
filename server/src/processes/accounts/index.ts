export { accountsFeature } from './feature';
