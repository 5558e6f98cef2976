export { stirringsFeature } from './feature';
export { readStirring, settleStirrings, stir } from './stirrings';
