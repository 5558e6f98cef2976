export { AppointmentActs } from './appointment-acts';
export { CalendarFeedPart } from './calendar-feed';
export { OutsideCalendarsPart } from './outside-calendars';
export { beginningIn, PlaceInDay } from './place-in-day';
