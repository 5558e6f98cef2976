export * from './candidate';
export * from './cost';
export * from './cut';
export * from './deadlines';
export * from './decays';
export * from './explain';
export * from './rank';
export * from './facts';
