export * from './expand';
export * from './party';
export * from './read-calendar';
export * from './take-answer';
export * from './write-calendar';
