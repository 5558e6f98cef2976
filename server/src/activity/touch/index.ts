export { learnAnswerRates, readAnswerRates, readOwnHours } from './answer-rates';
export { touchFeature } from './feature';
export { recountAfterRules } from './recount-after-rules';
export { refreshNextSteps } from './next-steps';
export { deriveTethers, readTouches, refreshTouchFacts, touchedContacts } from './touch-facts';
