export { PhoneLine } from './phone-line';
export { TeamDay } from './team-day';
