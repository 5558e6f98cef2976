import type { CadenceStep } from '@kettle/contract';
import { plainStep } from '@kettle/core/cadences';
import { addDays } from '@kettle/core/time';
import type { Database, Queryable, SqlValue } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { applyEvent } from '../src/processes/cadences/apply-event';
import { insertCadence, readCurrentVersion } from '../src/processes/cadences/cadence-rows';
import { readRun } from '../src/processes/cadences/run-rows';
import { bytesOf, idOf, newId, type IdBytes } from '../src/platform/ids';
import { workInside, type Work } from '../src/platform/work/work';
import type { Services } from '../src/platform/services';
import { compare, print } from './measure';
import { writingAt } from '../src/platform/work/work';

const dueRuns = 100_000;
const batch = 100;
const rowsAtOnce = 2000;

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly now: string;
}

export const steps = [0, 1, 2, 2, 1, 2].map((offsetDays, index): CadenceStep => ({
  ...plainStep,
  channel: index % 2 === 0 ? 'call' : 'email',
  offsetDays,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 6,
  purpose: `step ${index + 1}`,
}));

/** Taking due runs a step on among 100,000 of them, against nothing but the statements that this needs. */
export async function benchAdvancing({ database, services, now }: Bench): Promise<void> {
  const ids = await loadRuns(database, now);
  let at = 0;
  const next = () => Array.from({ length: batch }, () => ids[(at += 7919) % ids.length]!);
  const advanceOne = async (w: Work, id: Buffer) => {
    const stored = (await readRun(w, idOf(id)))!;
    const event = {
      id: 'bench',
      at: now,
      kind: 'step-done',
      step: stored.run.step,
      counts: 'attempt',
      endsRun: false,
      words: '',
    } as const;
    await w.change(
      "UPDATE task SET state = 'done', finished_at = :now WHERE run_id = :id AND state = 'open'",
      {
        id,
        now: sqlInstant(now),
      },
    );
    await applyEvent(w, stored, event);
  };
  const { ours, bare } = await compare(
    9,
    () => undoneWork(services, next(), advanceOne),
    () => undone(database, next(), (tx, id) => bareAdvance(tx, id, now)),
  );
  print({
    name: `advancing ${batch} of 100,000 due runs against the bare statements needed`,
    value: ours,
    unit: 'ms',
    baseline: bare,
    ratio: ours / bare,
    aim: 3,
    note: 'each batch in one transaction that is taken back, so that every turn meets the same rows',
  });
}

class TakenBack extends Error {}

/** A unit of work with all that follows from it, taken back before it is committed. */
async function undoneWork(
  services: Services,
  ids: readonly Buffer[],
  advance: (w: Work, id: Buffer) => Promise<void>,
): Promise<void> {
  const setId = newId<string>();
  const all = services.database.transaction(
    async (tx) => {
      await workInside(
        tx,
        services,
        null,
        async (w) => {
          for (const id of ids) await advance(w, id);
        },
        { id: setId, act: 'bench', hash: null },
      );
      throw new TakenBack();
    },
    { setId },
  );
  await all.catch((error: unknown) => {
    if (!(error instanceof TakenBack)) throw error;
  });
}

async function undone(
  database: Database,
  ids: readonly Buffer[],
  work: (tx: Queryable, id: Buffer) => Promise<void>,
): Promise<void> {
  const all = database.transaction(async (tx) => {
    for (const id of ids) await work(tx, id);
    throw new TakenBack();
  });
  await all.catch((error: unknown) => {
    if (!(error instanceof TakenBack)) throw error;
  });
}

/** What cannot be done without: everything planning must know, read; the run, its steps, its tasks and the tether, written. */
async function bareAdvance(tx: Queryable, id: Buffer, now: string): Promise<void> {
  const at = sqlInstant(now);
  const [run] = await tx.rows<{
    contact_id: Buffer;
    company_id: Buffer | null;
    owner_id: Buffer;
    step: number;
  }>(
    `SELECT r.*, v.definition, c.company_id, c.country, c.zone, c.phone, c.email, c.last_touch_at, u.country AS home, u.zone AS ours, u.hours
       FROM run r JOIN cadence_version v ON v.id = r.cadence_version_id JOIN contact c ON c.id = r.contact_id
       JOIN app_user u ON u.id = r.owner_id WHERE r.id = :id`,
    { id },
  );
  const { contact_id: contact, company_id: company, owner_id: owner, step } = run!;
  await tx.rows('SELECT channel FROM do_not_contact WHERE contact_id = :contact', { contact });
  await tx.rows("SELECT due_on FROM task WHERE contact_id = :contact AND state = 'open'", { contact });
  await tx.rows(
    "SELECT due_on, COUNT(*) FROM task WHERE company_id = :company AND state = 'open' AND due_on >= :on GROUP BY due_on",
    { company, on: now.slice(0, 10) },
  );
  await tx.change("UPDATE task SET state = 'done', finished_at = :at WHERE run_id = :id AND state = 'open'", {
    id,
    at,
  });
  await tx.change(
    "UPDATE run SET step = step + 1, next_on = :on, handled = '[]', version = version + 1 WHERE id = :id",
    {
      id,
      on: addDays(now.slice(0, 10), 2),
    },
  );
  await tx.change('UPDATE run_step SET acted_at = :at WHERE run_id = :id AND step = :step', { id, at, step });
  await tx.change(
    'INSERT INTO run_step (run_id, step, channel, reached_at) VALUES (:id, :step + 1, :channel, :at)',
    { id, step, at, channel: 'email' },
  );
  await tx.change(
    `INSERT INTO task (id, channel, purpose, due_on, minutes, owner_id, contact_id, company_id, run_id, run_step, created_at)
     VALUES (:task, 'email', 'step', :on, 6, :owner, :contact, :company, :id, :step + 1, :at)`,
    { task: bytesOf(newId()), on: addDays(now.slice(0, 10), 2), owner, contact, company, id, step, at },
  );
  await tx.change(
    `INSERT INTO event (id, kind, topic, record_id, set_id, cause, owners, data)
     VALUES (:event, 'changed', 'run', :id, :event, 'bench', '[]', '{}')`,
    { event: bytesOf(newId()), id },
  );
  await tx.change('UPDATE contact SET next_step_on = :on WHERE id = :contact', {
    contact,
    on: addDays(now.slice(0, 10), 2),
  });
}

/** Due runs of a rep who is not measured otherwise, loaded once and kept for later runs. */
async function loadRuns(database: Database, now: string): Promise<Buffer[]> {
  const known = await database.rows<{ id: IdBytes }>(
    "SELECT r.id FROM run r JOIN cadence ca ON ca.id = r.cadence_id WHERE ca.name = 'Bench' ORDER BY r.id",
  );
  if (known.length === dueRuns) return known.map(({ id }) => id);
  process.stderr.write('Loading 100,000 due runs …\n');
  const cadence = await insertCadence(writingAt(database, now), 'Bench', { steps, answeredStep: null });
  const version = await readCurrentVersion(database, cadence);
  const [colleague] = await database.rows<{ id: IdBytes }>(
    "SELECT id FROM app_user WHERE email = 'colleague@hollinbeck.example'",
  );
  const contacts = await database.rows<{ id: IdBytes; company_id: IdBytes | null }>(
    `SELECT id, company_id FROM contact ORDER BY id DESC LIMIT ${dueRuns}`,
  );
  const at = sqlInstant(now);
  const today = now.slice(0, 10);
  const owner = colleague!.id;
  const ids = contacts.map(() => bytesOf(newId<string>()));
  const insert = async (into: string, row: (n: number) => SqlValue[]) => {
    for (let from = 0; from < dueRuns; from += rowsAtOnce)
      await database.change(`INSERT INTO ${into} VALUES :rows`, {
        rows: Array.from({ length: Math.min(rowsAtOnce, dueRuns - from) }, (_, n) => row(from + n)),
      });
  };
  await insert(
    'run (id, cadence_id, cadence_version_id, contact_id, owner_id, status, step, next_on, handled, started_at)',
    (n) => [
      ids[n]!,
      bytesOf(cadence),
      bytesOf(version.id),
      contacts[n]!.id,
      owner,
      'running',
      n % 4,
      today,
      '[]',
      at,
    ],
  );
  await insert('run_step (run_id, step, channel, reached_at)', (n) => [
    ids[n]!,
    n % 4,
    steps[n % 4]!.channel,
    at,
  ]);
  await insert(
    'task (id, channel, purpose, due_on, minutes, owner_id, contact_id, company_id, run_id, run_step, created_at)',
    (n) => [
      bytesOf(newId<string>()),
      steps[n % 4]!.channel,
      'step',
      today,
      6,
      owner,
      contacts[n]!.id,
      contacts[n]!.company_id,
      ids[n]!,
      n % 4,
      at,
    ],
  );
  return ids;
}
