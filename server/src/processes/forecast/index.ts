export { forecastFeature } from './feature';
export { readCalibration } from './calibration';
export { readMarks } from './marks';
export { computeOutlook, readOutlook, type AskedSum } from './outlook';
export {
  inTimeOf,
  readOpenDeals,
  readSlips,
  readWon,
  readDealNames,
  type OpenDeal,
  type Period,
  type WonSum,
} from './read-deals';
