export { AppointmentActs } from './appointment-acts';
export { CalendarFeedPart } from './calendar-feed';
export { beginningIn, PlaceInDay } from './place-in-day';
