export { SetupSteps } from './setup-steps';
