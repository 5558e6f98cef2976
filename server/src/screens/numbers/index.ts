export { numbersFeature } from './feature';
