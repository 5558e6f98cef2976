export { companyFeature } from './feature';
