export * from './compare';
export * from './jaro-winkler';
export * from './names';
export * from './shared-mailbox';
export * from './person-names';
export * from './split-name';
