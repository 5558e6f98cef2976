export { ApiKeysPart } from './api-keys-part';
export { HooksPart } from './hooks-part';
