export { AppointmentActs } from './appointment-acts';
