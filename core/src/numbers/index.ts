export * from './figures';
export * from './period';
export * from './say';
export * from './stays';
