export const tasksEndpoints = {
  createTask: 'POST /api/tasks',
  listTasks: 'GET /api/tasks',
  taskTable: 'GET /api/tasks/table',
  countTasks: 'GET /api/tasks/count',
  exportTasks: 'GET /api/tasks/export',
  changeTask: 'PUT /api/tasks/:id',
  finishTask: 'POST /api/tasks/:id/done',
  reopenTask: 'POST /api/tasks/:id/reopen',
  deferTask: 'POST /api/tasks/:id/defer',
  dropTask: 'POST /api/tasks/:id/drop',
} as const;
