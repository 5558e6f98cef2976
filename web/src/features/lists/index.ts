export { listSpecs, makeSpec } from './list-specs';
