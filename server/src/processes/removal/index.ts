export { removalFeature } from './feature';
export { bringBack } from './bring-back';
