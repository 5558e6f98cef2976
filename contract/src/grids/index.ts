export * from './agreements';
export * from './companies';
export * from './deals';
export * from './leads';
export * from './mail';
export * from './people';
export * from './tasks';
