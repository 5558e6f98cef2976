export { loggingFeature } from './feature';
export { logInside } from './log-act';
