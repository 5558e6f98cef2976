export { hooksFeature } from './feature';
export { hearForHooks } from './hear';
export { sealHookSecrets } from './hooks';
