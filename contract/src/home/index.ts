export type { HomeCardKind } from './kinds';
export * from './schemas';
