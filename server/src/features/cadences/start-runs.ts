import type {
  CadenceDefinition,
  ContactId,
  LeftOutReason,
  PlannedMoment,
  RunId,
  StartPlan,
  TaskId,
} from '@kettle/contract';
import { plan, startRun, type PlanSetting, type Run, type RunEffect } from '@kettle/core/cadence';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../db/database';
import { sqlInstant } from '../../db/values';
import { bytesOf, idNamed, idOf, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { refreshNextSteps } from '../journal/next-steps';
import { writeSystemEntries } from '../journal/write-entry';
import { mayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import type { AllSettings } from '../settings/settings';
import { insertTasks } from '../tasks/tasks';
import { taskOfEffect } from './apply-event';
import { readCurrentVersion, readVersion, type StoredVersion } from './cadence-rows';
import { daysOf, planSettingOf, readCompanyDays, readPlannable, type PlannablePerson } from './plan-setting';

interface LeftOut {
  readonly reason: LeftOutReason;
  readonly words: string;
}

/** What starting these people would do, with every planned moment; writes nothing. */
export async function planStart(
  services: Services,
  who: SignedIn,
  cadenceId: string,
  contactIds: readonly ContactId[],
): Promise<StartPlan> {
  const { database, settings } = services;
  const version = await readCurrentVersion(database, cadenceId);
  const planned = await planPeople(
    database,
    services,
    await settings.read(database),
    who,
    version,
    contactIds,
    false,
  );
  return {
    cadenceId: version.cadenceId,
    versionId: version.id,
    people: planned.map(({ person, leftOut, moments }) => ({
      contactId: person.contactId,
      name: person.name,
      companyName: person.companyName,
      zone: person.zone,
      leftOut,
      moments,
    })),
  };
}

interface PlannedPerson {
  readonly person: PlannablePerson;
  readonly setting: PlanSetting;
  readonly leftOut: LeftOut | null;
  readonly moments: PlannedMoment[];
}

async function planPeople(
  db: Queryable,
  services: Services,
  settings: AllSettings,
  who: SignedIn,
  version: StoredVersion,
  contactIds: readonly ContactId[],
  lock: boolean,
): Promise<PlannedPerson[]> {
  const people = await readPlannable(db, services, contactIds, lock);
  const running = await readRunning(db, version.cadenceId, contactIds);
  const companyDays = await readCompanyDays(db, people, services.clock.now().slice(0, 10));
  return people.map((person) => {
    const setting = planSettingOf(person, companyDays, services, settings, who);
    const today = localDate(setting.now, person.zone);
    const moments = plan(version.definition, today, setting);
    const leftOut = whyLeftOut(person, who, running, moments);
    if (leftOut === null && person.companyId !== null)
      countDays(daysOf(companyDays, person.companyId), moments);
    return { person, setting, leftOut, moments };
  });
}

/** People of one company planned together share its daily limit. */
function countDays(days: Map<string, number>, moments: readonly PlannedMoment[]): void {
  for (const moment of moments)
    if (moment.kind === 'planned') days.set(moment.on, (days.get(moment.on) ?? 0) + 1);
}

function whyLeftOut(
  person: PlannablePerson,
  who: SignedIn,
  running: ReadonlySet<string>,
  moments: readonly PlannedMoment[],
): LeftOut | null {
  if (running.has(person.contactId))
    return { reason: 'already-running', words: 'is on this cadence already' };
  if (!mayChange(who, person.ownerId)) return { reason: 'not-yours', words: 'belongs to a colleague' };
  if (moments.some((moment) => moment.kind === 'planned')) return null;
  const isForbidden = person.contact.doNotContact.size > 0;
  return isForbidden
    ? { reason: 'do-not-contact', words: 'asked not to be contacted on its channels' }
    : { reason: 'no-step-possible', words: 'has no number or address for any of its steps' };
}

async function readRunning(
  db: Queryable,
  cadenceId: string,
  contactIds: readonly ContactId[],
): Promise<Set<string>> {
  const rows = await db.rows<{ contact_id: IdBytes }>(
    'SELECT contact_id FROM run WHERE active_contact_id IN (:ids) AND cadence_id = :cadence',
    { ids: contactIds.map((id) => bytesOf(id)), cadence: bytesOf(cadenceId) },
  );
  return new Set(rows.map((row) => idOf(row.contact_id)));
}

export interface StartRequest {
  readonly requestId: string;
  readonly cadenceId: string;
  readonly versionId: string;
  readonly contactIds: readonly ContactId[];
  readonly dealId: string | null;
}

/** Starts people on a cadence. The same request twice starts nobody twice: run ids are derived from it. */
export async function startRuns(services: Services, who: SignedIn, request: StartRequest) {
  const { database, clock, settings, feed } = services;
  const reply = await database.transaction(async (tx) => {
    const version = await readVersion(tx, request.versionId);
    if (version.cadenceId !== request.cadenceId) throw new Problem('not-found');
    const earlier = await readStarted(tx, request);
    if (earlier.length > 0) return { started: earlier, leftOut: [] };
    const planned = await planPeople(
      tx,
      services,
      await settings.read(tx),
      who,
      version,
      request.contactIds,
      true,
    );
    const started = await writeStarts(
      tx,
      who,
      version,
      planned.filter(({ leftOut }) => leftOut === null),
      request,
      clock.now(),
    );
    const leftOut = planned.flatMap(({ person, leftOut: why }) =>
      why ? [{ contactId: person.contactId, ...why }] : [],
    );
    return { started, leftOut };
  });
  feed.poke();
  return reply;
}

const runIdOf = (request: StartRequest, contactId: string) =>
  idNamed<RunId>(`run ${contactId}`, request.requestId);

async function readStarted(tx: Queryable, request: StartRequest) {
  const rows = await tx.rows<{ id: IdBytes; contact_id: IdBytes; task_id: IdBytes | null }>(
    `SELECT r.id, r.contact_id, MIN(t.id) AS task_id FROM run r LEFT JOIN task t ON t.run_id = r.id
      WHERE r.id IN (:ids) GROUP BY r.id, r.contact_id`,
    { ids: request.contactIds.map((id) => bytesOf(runIdOf(request, id))) },
  );
  return rows.map((row) => ({
    contactId: idOf<ContactId>(row.contact_id),
    runId: idOf<RunId>(row.id),
    taskId: row.task_id && idOf<TaskId>(row.task_id),
  }));
}

interface Start {
  readonly person: PlannablePerson;
  readonly id: RunId;
  readonly run: Run;
  readonly effects: readonly RunEffect[];
}

async function writeStarts(
  tx: Queryable,
  who: SignedIn,
  version: StoredVersion,
  planned: readonly PlannedPerson[],
  request: StartRequest,
  now: string,
) {
  const { definition } = version;
  const starts = planned.map(({ person, setting }): Start => {
    const { run, effects } = startRun(localDate(now, person.zone), { ...setting, definition });
    return { person, id: runIdOf(request, person.contactId), run, effects };
  });
  if (starts.length === 0) return [];
  await insertRuns(tx, who, version, starts, request, now);
  const taskIds = await insertTasks(
    tx,
    starts.flatMap((start) => firstTask(start, definition, who, request)),
    now,
  );
  await writeSystemEntries(
    tx,
    starts.map(({ person, id }) => ({
      contactId: person.contactId,
      companyId: person.companyId,
      runId: id,
      userId: who.id,
      body: `Started on “${version.name}”`,
    })),
    now,
  );
  await refreshNextSteps(
    tx,
    { contactIds: starts.map(({ person }) => person.contactId), dealIds: [request.dealId] },
    now,
  );
  await noteChange(tx, 'run', version.cadenceId, who.id);
  return starts.map(({ person, id }, index) => ({
    contactId: person.contactId,
    runId: id,
    taskId: taskIds[index] ?? null,
  }));
}

async function insertRuns(
  tx: Queryable,
  who: SignedIn,
  version: StoredVersion,
  starts: readonly Start[],
  request: StartRequest,
  now: string,
) {
  await tx.change(
    `INSERT INTO run (id, cadence_id, cadence_version_id, contact_id, deal_id, owner_id, status, step, next_on,
        exit_reason, handled, started_at) VALUES :rows`,
    {
      rows: starts.map(({ id, person, run }) => [
        bytesOf(id),
        bytesOf(version.cadenceId),
        bytesOf(version.id),
        bytesOf(person.contactId),
        bytesOf(request.dealId),
        bytesOf(who.id),
        run.status,
        run.step,
        run.nextOn,
        run.exitReason,
        JSON.stringify(run.handled),
        sqlInstant(now),
      ]),
    },
  );
}

function firstTask(
  { person, id, effects }: Start,
  definition: CadenceDefinition,
  who: SignedIn,
  request: StartRequest,
) {
  const stored = { id, definition, ownerId: who.id, contactId: person.contactId, dealId: request.dealId };
  return effects.flatMap((effect) =>
    effect.kind === 'create-task' ? [taskOfEffect(stored, person.companyId, effect)] : [],
  );
}
