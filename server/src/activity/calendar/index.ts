export { appointmentOf } from './appointments';
export { calendarFeature } from './feature';
export { followTasks, keepAppointments } from './keep-appointments';
export { planAppointment } from './plan-appointment';
export { readBlocks, withoutTasks } from './spine';
