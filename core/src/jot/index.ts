export * from './jot';
export * from './people';
