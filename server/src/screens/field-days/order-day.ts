import { bestOrder, type Trip } from '@kettle/core/route';
import type { HeavyTask } from '../../platform/heavy';
import type { Services } from '../../platform/services';

const task = 'order-field-day';

/** The best order of a trip, found in a thread beside the one that answers. */
export const orderDay = ({ quick }: Services, trip: Trip): Promise<number[]> =>
  quick.run(task, trip) as Promise<number[]>;

const orderInThread: HeavyTask = (_, input) => Promise.resolve(bestOrder(input as Trip));
export const quickFieldDayTasks = { [task]: orderInThread };
