export { calendarFeature } from './feature';
export { readBlocks } from './calendar';
