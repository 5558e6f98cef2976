export { rulesFeature } from './feature';
export { hearForRules } from './hear';
