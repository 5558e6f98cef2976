export { findCircle, mayFollow, type RuleLinks, type Signal } from './circles';
