export { removalFeature } from './feature';
export { namesOnly, removeReferring, removeRow } from './remove-record';
export { bringBack } from './bring-back';
