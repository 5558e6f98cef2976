export * from './csv';
export * from './draft';
export * from './mapping';
export * from './vcard';
export * from './write-csv';
