export { filesFeature } from './feature';
export { filesBeside, readFileBytes } from './file-bytes';
