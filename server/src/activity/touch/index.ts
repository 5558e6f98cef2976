export { learnAnswerRates, readAnswerRates, readOwnHours } from './answer-rates';
export { touchFeature } from './feature';
export { recountAfterRules } from './recount-after-rules';
export { deriveNextSteps, refreshNextSteps } from './next-steps';
export { deriveTouchFacts, readTouches, refreshTouchFacts, touchedContacts } from './touch-facts';
