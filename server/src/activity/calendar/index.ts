export { appointmentOf } from './appointments';
export { callOffAppointment } from './call-off-appointment';
export { changeAppointment } from './change-appointment';
export { calendarFeature } from './feature';
export { followTasks, keepAppointments, setPlace } from './keep-appointments';
export { keepInvited } from './keep-invited';
export { takeInvitationAnswer, type TakenFor } from './take-invitation-answer';
export { planAppointment } from './plan-appointment';
export { readBlocks, withoutTasks } from './spine';
