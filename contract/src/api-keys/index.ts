export * from './areas';
export * from './kinds';
export * from './schemas';
