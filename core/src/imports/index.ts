export * from './columns';
export * from './csv';
export * from './draft';
export * from './formats';
export * from './mapping';
export * from './records';
export * from './vcard';
export * from './write-csv';
