import type {
  CadenceDefinition,
  ContactId,
  LeftOutReason,
  PlainDate,
  PlannedMoment,
  RunId,
  StartPlan,
  TaskId,
} from '@kettle/contract';
import {
  levelStarts,
  plan,
  startRun,
  type PlanSetting,
  type Run,
  type RunEffect,
} from '@kettle/core/cadences';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idNamed, idOf, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writeSystemEntries } from '../../records/entries/index';
import { type SignedIn } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import type { AllSettings } from '../../records/settings/index';
import { insertTasks } from '../../activity/tasks/index';
import { taskOfEffect } from './apply-event';
import { askToSendStep } from './ask-to-send-step';
import { patternOf, readRepLoad, readSurvival, type RepLoad } from './read-load';
import { noteReached } from './run-steps';
import { readCurrentVersion, readVersion, type StoredVersion } from './cadence-rows';
import { daysOf, planSettingOf, readCompanyDays, readPlannable, type PlannablePerson } from './plan-setting';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

interface LeftOut {
  readonly reason: LeftOutReason;
  readonly words: string;
}

/** What starting these people would do, with every planned moment and the load it makes; writes nothing. */
export async function planStart(
  services: Services,
  who: SignedIn,
  cadenceId: string,
  asked: { readonly contactIds: readonly ContactId[]; readonly isLevelled: boolean },
): Promise<StartPlan> {
  const { database, settings } = services;
  const version = await readCurrentVersion(database, cadenceId);
  const read = await settings.read(database);
  const load = await readRepLoad(database, services, read, who);
  const { alive } = await readSurvival(database, version.id);
  const atOnce = await planPeople(database, services, read, who, version, asked.contactIds, {});
  const starting = atOnce.filter(({ leftOut }) => leftOut === null).map(({ person }) => person.contactId);
  const startOn = asked.isLevelled ? levelDays(starting, version, alive, load) : {};
  const planned = asked.isLevelled
    ? await planPeople(database, services, read, who, version, asked.contactIds, startOn)
    : atOnce;
  const people = planned.map(({ person, leftOut, moments, startsOn }) => {
    const isOver = leftOut === null && asked.isLevelled && startOn[person.contactId] === undefined;
    return {
      contactId: person.contactId,
      name: person.name,
      companyName: person.companyName,
      zone: person.zone,
      leftOut,
      startOn: leftOut !== null || isOver ? null : startsOn,
      moments: isOver ? [] : moments,
    };
  });
  const withThem = [...load.minutes];
  for (const { leftOut, moments } of people)
    if (leftOut === null) addMoments(withThem, moments, load.days, version, alive);
  return {
    cadenceId: version.cadenceId,
    versionId: version.id,
    people,
    load: load.days.map((on, index) => ({
      on,
      minutes: load.minutes[index]!,
      withThem: withThem[index]!,
      capacity: load.capacity[index]!,
    })),
  };
}

function levelDays(
  starting: readonly ContactId[],
  { definition }: StoredVersion,
  alive: readonly number[],
  load: RepLoad,
): Record<string, PlainDate> {
  const { starts } = levelStarts({
    count: starting.length,
    pattern: patternOf(definition, alive),
    load: load.minutes,
    capacity: load.capacity,
    days: load.days.length,
  });
  return Object.fromEntries(
    starting.flatMap((id, index) => {
      const day = starts[index] ?? null;
      return day === null ? [] : [[id, load.days[day]!]];
    }),
  );
}

function addMoments(
  minutes: number[],
  moments: readonly PlannedMoment[],
  days: readonly PlainDate[],
  { definition }: StoredVersion,
  alive: readonly number[],
): void {
  for (const moment of moments) {
    if (moment.kind !== 'planned' || definition.steps[moment.step]?.mode !== 'by-hand') continue;
    const place = days.findIndex((day) => day >= moment.on);
    if (place >= 0) minutes[place]! += moment.minutes * (alive[moment.step] ?? 1);
  }
}

/** The real dates of a definition, saved or not, for one contact. */
export async function planExample(
  services: Services,
  who: SignedIn,
  asked: { definition: CadenceDefinition; contactId: ContactId; startOn: PlainDate | null },
): Promise<{ zone: string; moments: PlannedMoment[] }> {
  const { database, settings } = services;
  const [person] = await readPlannable(database, services, [asked.contactId]);
  if (!person) throw new Problem('not-found');
  const companyDays = await readCompanyDays(database, [person], services.clock.now().slice(0, 10));
  const setting = planSettingOf(person, companyDays, services, await settings.read(database), who);
  const startOn = asked.startOn ?? localDate(setting.now, person.zone);
  return { zone: person.zone, moments: plan(asked.definition, startOn, setting) };
}

interface PlannedPerson {
  readonly person: PlannablePerson;
  readonly setting: PlanSetting;
  readonly leftOut: LeftOut | null;
  readonly startsOn: PlainDate;
  readonly moments: PlannedMoment[];
}

async function planPeople(
  db: Queryable,
  services: Services,
  settings: AllSettings,
  who: SignedIn,
  version: StoredVersion,
  contactIds: readonly ContactId[],
  startOn: Readonly<Record<string, PlainDate>>,
  lock = false,
): Promise<PlannedPerson[]> {
  const people = await readPlannable(db, services, contactIds, lock);
  const theirs =
    who.role === 'rep'
      ? await readCustomersOfOthers(db, people, who.id, services.clock.now().slice(0, 10))
      : new Set<string>();
  const running = await readRunning(db, version.cadenceId, contactIds);
  const isByItself = version.definition.steps.some(({ mode }) => mode === 'by-itself');
  const unconfirmed = isByItself ? await readUnconfirmed(db, contactIds) : new Set<string>();
  const companyDays = await readCompanyDays(db, people, services.clock.now().slice(0, 10));
  return people.map((person) => {
    const setting = planSettingOf(person, companyDays, services, settings, who);
    const today = localDate(setting.now, person.zone);
    const asked = startOn[person.contactId];
    const startsOn = asked !== undefined && asked > today ? asked : today;
    const moments = plan(version.definition, startsOn, setting);
    const leftOut = version.isRetired
      ? retired
      : theirs.has(person.companyId ?? '')
        ? ofAColleague
        : unconfirmed.has(person.contactId)
          ? consentOpen
          : whyLeftOut(person, who, running, moments);
    if (leftOut === null && person.companyId !== null)
      countDays(daysOf(companyDays, person.companyId), moments);
    return { person, setting, leftOut, startsOn, moments };
  });
}

/** People of one company planned together share its daily limit. */
function countDays(days: Map<string, number>, moments: readonly PlannedMoment[]): void {
  for (const moment of moments)
    if (moment.kind === 'planned') days.set(moment.on, (days.get(moment.on) ?? 0) + 1);
}

const retired: LeftOut = { reason: 'retired', words: $localize`the cadence is retired` };
const ofAColleague: LeftOut = {
  reason: 'customer-of-a-colleague',
  words: $localize`their company is the customer of a colleague`,
};

const consentOpen: LeftOut = {
  reason: 'consent-open',
  words: $localize`has not confirmed their consent, and this cadence sends by itself`,
};

/** Whoever came by a form that asks for their consent to be confirmed, and has not confirmed any. */
async function readUnconfirmed(db: Queryable, contactIds: readonly ContactId[]): Promise<Set<string>> {
  const rows = await db.rows<Row<'sales_lead', 'contact_id'>>(
    `SELECT contact_id FROM sales_lead WHERE contact_id IN (:ids) AND consent_words IS NOT NULL
      GROUP BY contact_id HAVING SUM(NOT consent_confirms OR consent_confirmed_at IS NOT NULL) = 0`,
    { ids: contactIds.map((id) => bytesOf(id)) },
  );
  return new Set(rows.map((row) => idOf(row.contact_id)));
}

/** Companies with a running agreement that a colleague looks after. */
async function readCustomersOfOthers(
  db: Queryable,
  people: readonly PlannablePerson[],
  userId: string,
  today: PlainDate,
): Promise<Set<string>> {
  const ids = [...new Set(people.flatMap(({ companyId }) => companyId ?? []))].map((id) => bytesOf(id));
  if (ids.length === 0) return new Set();
  const rows = await db.rows<{ company_id: IdBytes }>(
    `SELECT company_id FROM agreement WHERE company_id IN (:ids) AND archived_at IS NULL AND ends_on >= :today
      GROUP BY company_id HAVING SUM(owner_id = :user) = 0`,
    { ids, user: bytesOf(userId), today },
  );
  return new Set(rows.map((row) => idOf<string>(row.company_id)));
}

function whyLeftOut(
  person: PlannablePerson,
  who: SignedIn,
  running: ReadonlySet<string>,
  moments: readonly PlannedMoment[],
): LeftOut | null {
  if (running.has(person.contactId))
    return { reason: 'already-running', words: $localize`is on this cadence already` };
  if (!mayChange(who, person.ownerId))
    return { reason: 'not-yours', words: $localize`belongs to a colleague` };
  if (moments.some((moment) => moment.kind === 'planned')) return null;
  const isForbidden = person.contact.doNotContact.size > 0;
  return isForbidden
    ? { reason: 'do-not-contact', words: $localize`asked not to be contacted on its channels` }
    : { reason: 'no-step-possible', words: $localize`has no number or address for any of its steps` };
}

async function readRunning(
  db: Queryable,
  cadenceId: string,
  contactIds: readonly ContactId[],
): Promise<Set<string>> {
  const rows = await db.rows<Row<'run', 'contact_id'>>(
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
  readonly startOn: Readonly<Record<string, PlainDate>>;
}

/** Starts people on a cadence. The same request twice starts nobody twice: run ids are derived from it. */
export const startRuns = (services: Services, who: SignedIn, request: StartRequest) =>
  work(services, who, (w) => startRunsInside(w, request));

/** The same inside a unit of work that does more. */
export async function startRunsInside(w: PersonWork, request: StartRequest) {
  const { services, who } = w;
  const version = await readVersion(w, request.versionId);
  if (version.cadenceId !== request.cadenceId) throw new Problem('not-found');
  const earlier = await readStarted(w, request);
  if (earlier.length > 0) return { started: earlier, leftOut: [] };
  const settings = await w.settings();
  const { contactIds, startOn } = request;
  const planned = await planPeople(w, services, settings, who, version, contactIds, startOn, true);
  const started = await writeStarts(
    w,
    version,
    planned.filter(({ leftOut }) => leftOut === null),
    request,
  );
  const leftOut = planned.flatMap(({ person, leftOut: why }) =>
    why ? [{ contactId: person.contactId, ...why }] : [],
  );
  return { started, leftOut };
}

const runIdOf = (request: StartRequest, contactId: string) =>
  idNamed<RunId>(`run ${contactId}`, request.requestId);

async function readStarted(tx: Queryable, request: StartRequest) {
  const rows = await tx.rows<Row<'run', 'id' | 'contact_id'> & { task_id: IdBytes<TaskId> | null }>(
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
  w: PersonWork,
  version: StoredVersion,
  planned: readonly PlannedPerson[],
  request: StartRequest,
) {
  const { definition } = version;
  const starts = planned.map(({ person, setting, startsOn }): Start => {
    const { run, effects } = startRun(startsOn, { ...setting, definition });
    return { person, id: runIdOf(request, person.contactId), run, effects };
  });
  if (starts.length === 0) return [];
  await insertRuns(w, version, starts, request);
  const taskIds = new Map<string, TaskId>();
  for (const start of starts) {
    for (const effect of start.effects) {
      if (effect.kind !== 'create-task' && effect.kind !== 'send') continue;
      const task = firstTask(start, definition, w.who, request, effect);
      const [taskId] = await insertTasks(w, [task]);
      await noteReached(w, { id: start.id, definition }, effect);
      if (effect.kind === 'send' && taskId) await askToSendStep(w, taskId, effect.at);
      if (taskId) taskIds.set(start.id, taskId);
    }
  }
  await writeSystemEntries(
    w,
    starts.map(({ person, id }) => ({
      contactId: person.contactId,
      companyId: person.companyId,
      runId: id,
      userId: w.who.id,
      body: $localize`Started on “${version.name}:name:”`,
    })),
  );
  return starts.map(({ person, id }) => ({
    contactId: person.contactId,
    runId: id,
    taskId: taskIds.get(id) ?? null,
  }));
}

async function insertRuns(
  w: PersonWork,
  version: StoredVersion,
  starts: readonly Start[],
  request: StartRequest,
) {
  await w.change(
    `INSERT INTO run (id, cadence_id, cadence_version_id, contact_id, deal_id, owner_id, status, step, next_on,
        exit_reason, handled, started_at) VALUES :rows`,
    {
      rows: starts.map(({ id, person, run }) => [
        bytesOf(id),
        bytesOf(version.cadenceId),
        bytesOf(version.id),
        bytesOf(person.contactId),
        bytesOf(request.dealId),
        bytesOf(w.who.id),
        run.status,
        run.step,
        run.nextOn,
        run.exitReason,
        JSON.stringify(run.handled),
        sqlInstant(w.now),
      ]),
    },
  );
}

function firstTask(
  { person, id }: Start,
  definition: CadenceDefinition,
  who: SignedIn,
  request: StartRequest,
  effect: Extract<RunEffect, { kind: 'create-task' | 'send' }>,
) {
  const stored = { id, definition, ownerId: who.id, contactId: person.contactId, dealId: request.dealId };
  return taskOfEffect(stored, person.companyId, effect);
}
