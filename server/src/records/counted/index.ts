export { countedColumns, readCounted, type Reader } from './counted-sql';
export { deriveCounted } from './derive-counted';
export { countedFeature } from './feature';
export { recountEverything } from './recount-job';
