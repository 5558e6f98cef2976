import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { todayOf } from '../../records/users/index';
import { checkPipeline } from './check-pipeline';
import { moveDealsTo } from '../deals/index';
import { readPatience } from './patience';
import { readPipeline, readPipelines } from '../../records/pipelines/index';
import { changeFlow, createPipeline, removePipeline, savePipeline } from './save-pipeline';
import { work } from '../../platform/work/work';

type Names =
  | 'listPipelines'
  | 'createPipeline'
  | 'savePipeline'
  | 'checkPipeline'
  | 'mapPipeline'
  | 'removePipeline'
  | 'changeFlow'
  | 'listPatience';

export function pipelinesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  return {
    listPipelines: async () => ({ pipelines: await readPipelines(database) }),
    createPipeline: ({ body, who }) => createPipeline(services, who, body),
    savePipeline: async ({ params, body, who }) => {
      await work(services, who, (w) => savePipeline(w, params.id, body));
      return readPipeline(database, params.id);
    },
    checkPipeline: ({ params, body }) => checkPipeline(database, params.id, body, services.clock.now()),
    changeFlow: async ({ params, body, who }) => {
      await work(services, who, (w) => changeFlow(w, params.id, body));
      return readPipeline(database, params.id);
    },
    removePipeline: async ({ params, body, who }) => {
      await work(services, who, (w) => removePipeline(w, params.id, body.version));
      return { ok: true };
    },
    mapPipeline: async ({ params, body, who }) => {
      const moved = await work(services, who, async (w) => {
        const { stages } = await readPipeline(w, params.id);
        const all = (await readPipelines(w)).flatMap((pipeline) => pipeline.stages);
        let count = 0;
        for (const [index, { from, to }] of body.stages.entries()) {
          const [was, goal] = [stages.find(({ id }) => id === from), all.find(({ id }) => id === to)];
          if (was === undefined || goal === undefined || was.pipelineId === goal.pipelineId) {
            const fields = [
              {
                path: `stages.${index}`,
                message: $localize`must go from a stage here to one of another pipeline`,
              },
            ];
            throw new Problem('invalid-request', {}, { fields });
          }
          count += await moveDealsTo(w, was, goal);
        }
        return count;
      });
      return { moved };
    },
    listPatience: ({ who }) => readPatience(database, todayOf(services, who)),
  };
}
