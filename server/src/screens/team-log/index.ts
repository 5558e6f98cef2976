export { readRanking } from './ranking';
export { teamLogFeature } from './feature';
