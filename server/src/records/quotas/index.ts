export { quotasFeature } from './feature';
export { readSetMonths, sumOf, type QuotaKey } from './read-quotas';
