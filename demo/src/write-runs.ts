import type { CadenceId, Channel, Instant, TemplateId } from '@kettle/contract';
import {
  advance,
  startRun,
  variantOf,
  type Run,
  type RunEffect,
  type RunEvent,
  type RunSetting,
} from '@kettle/core/cadences';
import { addDays, localDate } from '@kettle/core/time';
import { stoppedClock } from '@kettle/server/platform/clock';
import type { WithKeys } from '@kettle/server/platform/database/database';
import { writingAt } from '@kettle/server/platform/work/work';
import { sqlInstant } from '@kettle/server/platform/database/values';
import {
  askToSendStep,
  insertCadence,
  planSettingOf,
  readCurrentVersion,
  readPlannable,
  taskOfEffect,
} from '@kettle/server/processes/cadences/index';
import { usualHours } from '@kettle/server/records/settings/index';
import { insertTask } from '@kettle/server/activity/tasks/index';
import { bytesOf, idOf, newId, type IdBytes } from '@kettle/server/platform/ids';
import type { Services } from '@kettle/server/platform/services';
import { definitionOf, demoCadences } from './cadences';
import type { Made } from './made';
import { momentAgo, zone } from './moments';
import type { Scenario } from './scenario';

type Planned = Extract<RunEffect, { kind: 'create-task' | 'send' }>;
type Version = Awaited<ReturnType<typeof readCurrentVersion>>;

/** What became of one step of a run. */
interface Passed {
  readonly step: number;
  readonly channel: Channel;
  readonly reachedAt: Instant;
  actedAt: Instant | null;
  answeredAt: Instant | null;
}

interface Lived {
  readonly run: Run;
  readonly steps: readonly Passed[];
  /** What is planned now. */
  readonly planned: Planned | undefined;
}

/** How often a try on a channel is answered here; the second of two texts does worse. */
const answerRates: Readonly<Record<Channel, number>> = {
  call: 0.17,
  email: 0.16,
  text: 0.13,
  meeting: 0.5,
  visit: 0.4,
  other: 0.1,
};
const secondTextRate = 0.08;
/** Luck from here on means that they want no more of it. */
const enough = 0.985;

/** Runs of now and of the past half year, lived through step by step as the people in them would have. */
export async function writeRuns(
  tx: WithKeys,
  demo: Services,
  scenario: Scenario,
  made: Made,
  today: string,
): Promise<void> {
  const versions = await writeCadences(tx, today);
  const settings = await demo.settings.read(tx);
  const everybody = [...new Set([...scenario.runs, ...scenario.pastRuns].map(({ contact }) => contact))];
  const people = new Map(
    (
      await readPlannable(
        tx,
        demo,
        everybody.map((contact) => made.contacts[contact]!),
      )
    ).map((person) => [person.contactId as string, person]),
  );
  const rows: { run: (string | number | Buffer | null)[][]; steps: (string | number | Buffer | null)[][] } = {
    run: [],
    steps: [],
  };
  const open: (() => Promise<void>)[] = [];
  const all = [
    ...scenario.runs.map((run) => ({ ...run, luck: null })),
    ...scenario.pastRuns.filter(({ contact }) => scenario.contacts[contact]!.owner !== null),
  ];
  for (const { contact, cadence, startedDaysAgo, luck } of all) {
    const version = versions[cadence]!;
    const contactId = made.contacts[contact]!;
    const person = people.get(contactId)!;
    const id = newId<string>();
    const rep = { zone, country: 'GB', hours: usualHours };
    const settingAt = (at: string): RunSetting => ({
      ...planSettingOf(
        { ...person, takenDays: new Set() },
        new Map(),
        { ...demo, clock: stoppedClock(at) },
        settings,
        rep,
      ),
      definition: version.definition,
    });
    const startedAt = momentAgo(today, startedDaysAgo, 570);
    const { run, steps, planned } = live(id, version, {
      startedAt,
      until: addDays(today, -1),
      luck,
      settingAt,
    });
    const ownerId = made.users[scenario.contacts[contact]!.owner ?? 0]!;
    rows.run.push([
      bytesOf(id),
      bytesOf(version.cadenceId),
      bytesOf(version.id),
      bytesOf(contactId),
      bytesOf(ownerId),
      run.status,
      run.step,
      run.nextOn,
      run.exitReason,
      JSON.stringify(run.handled),
      steps.some(({ answeredAt }) => answeredAt !== null) ? 1 : 0,
      sqlInstant(startedAt),
    ]);
    for (const each of steps)
      rows.steps.push([
        bytesOf(id),
        each.step,
        each.channel,
        bytesOf(templateOf(version, id, each.step)),
        sqlInstant(each.reachedAt),
        sqlOrNull(each.actedAt),
        sqlOrNull(each.answeredAt),
      ]);
    if (planned)
      open.push(async () => {
        const stored = { id: id as never, definition: version.definition, ownerId, contactId, dealId: null };
        const taskId = await insertTask(
          writingAt(tx, startedAt),
          taskOfEffect(stored, person.companyId, planned),
        );
        if (planned.kind === 'send') await askToSendStep(tx, taskId, planned.at);
      });
  }
  await tx.change(
    `INSERT INTO run (id, cadence_id, cadence_version_id, contact_id, owner_id, status, step, next_on, exit_reason, handled, answered, started_at)
     VALUES :rows`,
    { rows: rows.run },
  );
  await tx.change(
    'INSERT INTO run_step (run_id, step, channel, template_id, reached_at, acted_at, answered_at) VALUES :rows',
    { rows: rows.steps },
  );
  for (const write of open) await write();
}

const sqlOrNull = (at: Instant | null) => (at === null ? null : sqlInstant(at));
const templateOf = ({ definition }: Version, runId: string, step: number) =>
  variantOf(definition.steps[step]?.templateIds ?? [], runId, step);

async function writeCadences(tx: WithKeys, today: string): Promise<Version[]> {
  const templates = await tx.rows<{ id: IdBytes<TemplateId>; name: string }>('SELECT id, name FROM template');
  const idOfTemplate = (name: string): TemplateId => {
    const found = templates.find((each) => each.name === name);
    if (!found) throw new Error(`The demo has no template “${name}”.`);
    return idOf(found.id);
  };
  const versions: Version[] = [];
  for (const { name, steps } of demoCadences) {
    const id: CadenceId = await insertCadence(
      writingAt(tx, momentAgo(today, 200, 600)),
      name,
      definitionOf(steps, idOfTemplate),
    );
    versions.push(await readCurrentVersion(tx, id));
  }
  return versions;
}

/** Takes a run from its start to `until`. Without luck nobody answers. */
function live(
  id: string,
  version: Version,
  {
    startedAt,
    until,
    luck,
    settingAt,
  }: {
    startedAt: Instant;
    until: string;
    luck: readonly number[] | null;
    settingAt: (at: string) => RunSetting;
  },
): Lived {
  let { run, effects } = startRun(localDate(startedAt, zone), settingAt(startedAt));
  const steps: Passed[] = [];
  let reachedAt = startedAt;
  for (;;) {
    const planned = effects.find((effect) => effect.kind === 'create-task' || effect.kind === 'send');
    if (!planned) return { run, steps, planned: undefined };
    const step: Passed = {
      step: planned.step,
      channel: planned.channel,
      reachedAt,
      actedAt: null,
      answeredAt: null,
    };
    steps.push(step);
    if (planned.on >= until) return { run, steps, planned };
    const draw = luck?.[planned.step] ?? 0.5;
    const at = minutesAfter(planned.at, Math.floor(((draw * 7919) % 1) * 150));
    const isAnswered = luck !== null && draw < rateOf(version, id, planned);
    step.actedAt = at;
    step.answeredAt = isAnswered
      ? minutesAfter(at, isSpoken(planned) ? 0 : 60 + Math.floor(draw * 9000))
      : null;
    const event = (what: { kind: RunEvent['kind']; [fact: string]: unknown }) =>
      ({ id: `seed:${planned.step}:${what.kind}`, at, ...what }) as RunEvent;
    const done = event(
      planned.kind === 'send'
        ? { kind: 'sent', step: planned.step }
        : {
            kind: 'step-done',
            step: planned.step,
            counts: isAnswered && isSpoken(planned) ? 'conversation' : 'attempt',
            endsRun: isAnswered && isSpoken(planned),
            words: isAnswered && isSpoken(planned) ? 'spoke' : 'no answer',
          },
    );
    ({ run, effects } = advance(run, done, settingAt(at)));
    if (isAnswered && !isSpoken(planned))
      ({ run, effects } = advance(run, event({ kind: 'replied', channel: planned.channel }), settingAt(at)));
    if (luck !== null && draw >= enough)
      ({ run, effects } = advance(run, event({ kind: 'unsubscribed', channel: 'email' }), settingAt(at)));
    reachedAt = at;
  }
}

const isSpoken = ({ channel }: Planned) => channel === 'call' || channel === 'visit' || channel === 'meeting';
const minutesAfter = (at: Instant, minutes: number): Instant =>
  new Date(Date.parse(at) + minutes * 60_000).toISOString();

function rateOf(version: Version, runId: string, { step, channel }: Planned): number {
  const variants = version.definition.steps[step]?.templateIds ?? [];
  const isSecond = variants.length > 1 && templateOf(version, runId, step) === variants[1];
  return isSecond ? secondTextRate : answerRates[channel];
}
