export * from './chain';
export * from './retention';
export * from './risk';
