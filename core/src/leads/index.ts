export * from './owner';
export * from './status';
export * from './worth';
