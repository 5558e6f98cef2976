export { quotesFeature } from './feature';
export { nextNumber } from './number-series';
export { readQuoteLines } from './quote-rows';
