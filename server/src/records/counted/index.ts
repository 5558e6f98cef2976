export { countedColumns, readCounted } from './counted-sql';
export { deriveCounted } from './derive-counted';
export { countedFeature } from './feature';
export { recountEverything } from './recount-job';
