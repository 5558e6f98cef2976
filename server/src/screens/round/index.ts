export { learnChances } from './chances';
export { roundFeature } from './feature';
export { moveRounds } from './revision';
