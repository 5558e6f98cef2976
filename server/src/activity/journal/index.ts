export { journalFeature } from './feature';
export { readJournal } from './list-journal';
