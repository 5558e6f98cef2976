export * from './close-reasons';
export * from './schemas';
export * from './organisation';
export * from './rights';
export * from './setup';
