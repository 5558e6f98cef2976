export { sealCalendarLogins } from './calendars';
export { outsideCalendarsFeature } from './feature';
export { keepCalendars } from './keep-calendars';
