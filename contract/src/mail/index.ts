export * from './schemas';
export * from './taking-in';
