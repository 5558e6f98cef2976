export * from './candidate';
export * from './cost';
export * from './cut';
export * from './decays';
export * from './explain';
export * from './prices';
export * from './rank';
export * from './facts';
