export { touchFeature } from './feature';
export { deriveNextSteps, refreshNextSteps } from './next-steps';
export { deriveTouchFacts, readTouches, refreshTouchFacts, touchedContacts } from './touch-facts';
