export { addNote } from './edit-entry';
export { journalFeature } from './feature';
export { readJournal } from './list-journal';
