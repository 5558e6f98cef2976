export { type Colleague } from './colleagues';
export { type KnownDeal } from './deals';
export * from './jot';
export * from './people';
