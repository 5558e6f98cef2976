import * as z from 'zod';
import { pipelineId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  changeFlow,
  createPipeline,
  mapPipeline,
  patienceList,
  pipeline,
  pipelineCheck,
  removePipeline,
  savePipeline,
} from './schemas';

export const pipelinesRoutes = {
  createPipeline: { access: 'admin', summary: 'Make a pipeline', body: createPipeline, reply: pipeline },
  listPatience: {
    access: 'rep',
    summary: 'The patience that the history of each stage suggests',
    reply: patienceList,
  },
  savePipeline: {
    access: 'admin',
    summary: 'Change a pipeline and its stages',
    params: byId.extend({ id: pipelineId }),
    body: savePipeline,
    reply: pipeline,
  },
  checkPipeline: {
    access: 'admin',
    summary: 'What saving a pipeline would do to its deals',
    params: byId.extend({ id: pipelineId }),
    body: savePipeline,
    reply: pipelineCheck,
  },
  mapPipeline: {
    access: 'admin',
    summary: 'Move every open and parked deal of a pipeline to the stages of another',
    params: byId.extend({ id: pipelineId }),
    body: mapPipeline,
    reply: z.object({ moved: z.int() }),
  },
  changeFlow: {
    access: 'admin',
    summary: 'Say how deals go on in a pipeline, and where a won one is handed on to',
    params: byId.extend({ id: pipelineId }),
    body: changeFlow,
    reply: pipeline,
  },
  removePipeline: {
    access: 'admin',
    summary: 'Remove a pipeline that no open or parked deal is in',
    params: byId.extend({ id: pipelineId }),
    body: removePipeline,
    reply: ok,
  },
  listPipelines: {
    access: 'rep',
    summary: 'Pipelines and stages',
    reply: z.object({ pipelines: z.array(pipeline) }),
  },
} as const satisfies Record<string, RouteSpec>;
