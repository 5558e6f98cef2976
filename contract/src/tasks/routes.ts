import * as z from 'zod';
import { contactId, dealId, taskId } from '../base/ids';
import { gridCount, gridExport } from '../base/grid';
import { byId, nothing, type RouteSpec } from '../base/route';
import {
  changeTask,
  countTasks,
  createTask,
  deferTask,
  dropTask,
  task,
  taskPage,
  taskQuery,
  taskTable,
} from './schemas';

export const tasksRoutes = {
  createTask: { access: 'rep', summary: 'Plan a next step', body: createTask, reply: task },
  listTasks: {
    access: 'rep',
    summary: 'Open tasks of a contact or deal',
    query: z.object({ contactId: contactId.optional(), dealId: dealId.optional() }),
    reply: z.object({ tasks: z.array(task) }),
  },
  taskTable: { access: 'rep', summary: 'Tasks, mine or the team’s', query: taskTable, reply: taskPage },
  countTasks: {
    access: 'rep',
    summary: 'How many tasks a view finds, whole and by group',
    query: countTasks,
    reply: gridCount,
  },
  exportTasks: {
    access: 'rep',
    perHour: 30,
    summary: 'Tasks of a view as CSV or XLSX: the columns named, in order',
    query: taskQuery.extend(gridExport(taskId)),
    reply: nothing,
  },
  changeTask: {
    access: 'rep',
    summary: 'Change an open task or hand it to somebody',
    params: byId.extend({ id: taskId }),
    body: changeTask,
    reply: task,
  },
  finishTask: {
    access: 'rep',
    summary: 'A task is done',
    params: byId.extend({ id: taskId }),
    reply: task,
  },
  reopenTask: {
    access: 'rep',
    summary: 'Open a finished task again',
    params: byId.extend({ id: taskId }),
    reply: task,
  },
  deferTask: {
    access: 'rep',
    summary: 'Move a task to a later day',
    params: byId.extend({ id: taskId }),
    body: deferTask,
    reply: task,
  },
  dropTask: {
    access: 'rep',
    summary: 'Drop a task with a reason',
    params: byId.extend({ id: taskId }),
    body: dropTask,
    reply: task,
  },
} as const satisfies Record<string, RouteSpec>;
