export { DealQuotes } from './deal-quotes';
