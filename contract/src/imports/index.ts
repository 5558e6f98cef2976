export * from './kinds';
export * from './schemas';
