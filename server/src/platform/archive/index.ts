export { archivedTables, archiveSchema } from './tables';
export { readArchive } from './read-archive';
export { writeArchive, type ArchiveMade, type Beside } from './write-archive';
