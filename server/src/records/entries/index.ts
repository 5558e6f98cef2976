export { insertEntries, writeSystemEntries, writeSystemEntry } from './write-entry';
