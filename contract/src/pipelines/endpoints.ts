export const pipelinesEndpoints = {
  listPipelines: 'GET /api/pipelines',
  createPipeline: 'POST /api/pipelines',
  listPatience: 'GET /api/pipelines/patience',
  savePipeline: 'PUT /api/pipelines/:id',
  checkPipeline: 'POST /api/pipelines/:id/check',
  mapPipeline: 'POST /api/pipelines/:id/map',
  changeFlow: 'PUT /api/pipelines/:id/flow',
  removePipeline: 'POST /api/pipelines/:id/remove',
} as const;
