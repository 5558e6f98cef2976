export { talkFeature } from './feature';
