export { addNote } from './edit-entry';
export { journalFeature } from './feature';
export { ownActs, ownActsParameters } from './own-acts';
export { readJournal } from './list-journal';
export { readTeamLog } from './team-log';
export { tellNamed } from './tell-named';
