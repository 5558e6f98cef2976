export * from './schemas';
export * from './event-kinds';
