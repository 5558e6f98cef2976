export * from './advance';
export * from './plan';
export * from './run';
