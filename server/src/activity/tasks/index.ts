export { planTask } from './plan-task';
export { tasksFeature } from './feature';
export { repeatTask } from './repeat-task';
export {
  insertTask,
  insertTasks,
  openTasks,
  promisedInstant,
  readTask,
  type NewTask,
  type Task,
} from './tasks';
export { writeTask, type TaskChange } from './write-task';
