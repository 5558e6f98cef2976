export { dossierFeature } from './feature';
