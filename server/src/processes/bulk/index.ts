export { bulkFeature } from './feature';
export { giveRecords } from './give-records';
