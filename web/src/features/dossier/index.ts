export { DealFacts } from './deal-facts';
export { Dossier } from './dossier';
export { FileList } from './file-list';
export { JournalLines } from './journal-lines';
export { Talk } from './talk';
export { RecordMenu } from './record-menu';
