export * from './compare';
export * from './jaro-winkler';
export * from './names';
