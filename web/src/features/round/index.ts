export { PhoneLine } from './phone-line';
