export { RulesPart } from './rules-part';
