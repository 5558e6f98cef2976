import { cadenceFile, type RunChange, type RunId, type RunSummary } from '@kettle/contract';
import { isActive } from '@kettle/core/cadences';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { assertMayChange } from '../../records/rights/index';
import { applyEvent } from './apply-event';
import { listCadences } from './cadence-rows';
import { cadenceToFile, readCadenceFile } from './file-cadence';
import { readResults } from './read-results';
import { readRun, readRunsOf, runSummaryOf } from './run-rows';
import { readRunTable } from './run-table';
import { createCadence, listVersions, moveRuns, saveCadence, summaryOf } from './save-cadence';
import { planExample, planStart, startRuns } from './start-runs';
import { attempt } from '../../platform/work/attempt';
import { type PersonWork, work } from '../../platform/work/work';

type Names =
  | 'listCadences'
  | 'createCadence'
  | 'planStart'
  | 'startRuns'
  | 'listRuns'
  | 'changeRun'
  | 'changeRuns'
  | 'cadenceSchema'
  | 'planExample'
  | 'cadenceToFile'
  | 'readCadenceFile'
  | 'saveCadence'
  | 'runTable'
  | 'cadenceResults'
  | 'listVersions'
  | 'moveRuns';

export function cadencesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  return {
    listCadences: async () => ({ cadences: await listCadences(database) }),
    createCadence: async ({ body, who }) => {
      const id = await work(services, who, (w) => createCadence(w, body));
      return summaryOf(database, id);
    },
    planStart: ({ who, params, body }) => planStart(services, who, params.id, body),
    startRuns: ({ who, params, body }) => startRuns(services, who, { ...body, cadenceId: params.id }),
    listRuns: async ({ query }) => ({
      runs: (await readRunsOf(database, query.contactId, 'all')).map(runSummaryOf),
    }),
    changeRun: async ({ who, params, body }) => {
      const changed = await work(services, who, (w) => changeRun(w, params.id, body));
      return changed;
    },
    changeRuns: async ({ who, body }) => {
      const refused: { id: RunId; name: string; words: string }[] = [];
      // One act: undone together.
      await work(services, who, async (w) => {
        for (const { id, version } of body.runs) {
          const problem = await attempt(w, async () => {
            await changeRun(w, id, { version, change: body.change });
          });
          if (problem !== null) refused.push({ id, name: await nameOfRun(w, id), words: problem.message });
        }
      });
      return { changed: body.runs.length - refused.length, refused };
    },
    cadenceSchema: async () => z.toJSONSchema(cadenceFile, { io: 'input' }),
    cadenceToFile: ({ params }) => cadenceToFile(database, params.id),
    readCadenceFile: ({ body }) => readCadenceFile(database, body),
    planExample: async ({ who, body }) => planExample(services, who, body),
    saveCadence: async ({ who, params, body }) => {
      await work(services, who, (w) => saveCadence(w, params.id, body));
      return summaryOf(database, params.id);
    },
    runTable: ({ who, params, query }) => readRunTable(database, who, params.id, query),
    cadenceResults: ({ params }) => readResults(database, params.id, clock.now()),
    listVersions: async ({ params }) => ({ versions: await listVersions(database, params.id) }),
    moveRuns: ({ who, params, body }) => work(services, who, (w) => moveRuns(w, params.id, body)),
  };
}

async function changeRun(
  w: PersonWork,
  runId: string,
  { version, change }: { version: number; change: RunChange },
): Promise<RunSummary> {
  const { clock } = w.services;
  const stored = await readRun(w, runId);
  if (!stored) throw new Problem('not-found');
  await assertMayChange(w, w.who, stored.ownerId);
  if (stored.version !== version) throw new Problem('stale', {}, { current: runSummaryOf(stored) });
  if (!isActive(stored.run)) throw new Problem('run-not-active');
  const base = { id: `by-hand:${newId<string>()}`, at: clock.now() };
  const events = {
    pause: { ...base, kind: 'paused', until: null },
    resume: { ...base, kind: 'resumed' },
    stop: { ...base, kind: 'stopped', reason: $localize`stopped by ${w.who.name}:name:` },
    skip: {
      ...base,
      kind: 'step-skipped',
      step: stored.run.step,
      reason: $localize`skipped by ${w.who.name}:name:`,
    },
  } as const;
  await applyEvent(w, stored, events[change]);
  const now = await readRun(w, runId);
  if (!now) throw new Problem('not-found');
  return runSummaryOf(now);
}

async function nameOfRun(db: Queryable, runId: string): Promise<string> {
  const [row] = await db.rows<{ name: string }>(
    'SELECT c.display_name AS name FROM run r JOIN contact c ON c.id = r.contact_id WHERE r.id = :id',
    { id: bytesOf(runId) },
  );
  return row?.name ?? $localize`somebody who is gone`;
}
