import { addDays, localMoment } from '@kettle/core/time';

export const zone = 'Europe/London';

/** A moment of an earlier day, by the minute of that day here. */
export const momentAgo = (today: string, daysAgo: number, minute: number) =>
  localMoment(addDays(today, -daysAgo), minute, zone);
