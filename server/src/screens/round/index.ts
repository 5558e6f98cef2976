export { readRoundOf } from './kept-rounds';
export { learnChances } from './chances';
export { learnMinutes } from './learned-minutes';
export { roundFeature } from './feature';
export { moveRounds } from './revision';
