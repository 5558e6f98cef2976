export { AppointmentActs } from './appointment-acts';
export { CalendarFeedPart } from './calendar-feed';
