export { learnChances } from './chances';
export { roundFeature } from './feature';
