export * from './advance';
export * from './level';
export * from './load';
export * from './plan';
export * from './results';
export * from './run';
export * from './stave';
