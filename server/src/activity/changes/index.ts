export { changesFeature } from './feature';
export { Rows } from './rows';
export { findSet, undoDays, undoPart, undoSet } from './undo-set';
