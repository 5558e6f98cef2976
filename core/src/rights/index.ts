export { reachOf, type Led, type Reach, type ReadingPolicy } from './reach';
export { isAtLeast } from './roles';
