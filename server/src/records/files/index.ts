export { filesFeature } from './feature';
export { readFileBytes } from './file-bytes';
