import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Readable } from 'node:stream';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { sqlInstant } from '../src/platform/database/values';
import { newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { print } from './measure';

const rows = 100_000;
const firms = 20_000;
const origin = 'http://127.0.0.1:4399';

/**
 * A file of 100,000 people, from sending it to the last row written, in a running server, against LOAD DATA LOCAL of every row that it wrote
 * and the bare look-ups for doubles; and the longest that another request waited meanwhile.
 */
export async function benchImport(services: Services, now: string): Promise<void> {
  const { database } = services;
  const tag = newId<string>().slice(-6);
  const stop = await startServer(now);
  const { send } = await signIn();
  await untilNothingIsDue(services);
  const content = Buffer.from(fileText(tag)).toString('base64');
  const waits = watchOthers();
  const started = performance.now();
  const sent = await send<{ id: string; version: number }>('POST', '/api/imports', {
    fileName: 'many.csv',
    contentBase64: content,
  });
  const read = performance.now();
  await send('POST', `/api/imports/${sent.id}/confirm`, { version: sent.version });
  const left = `SELECT COUNT(*) AS jobs FROM job WHERE kind = 'import-chunk' AND state NOT IN ('done', 'failed')`;
  for (;;) {
    const [row] = await database.rows<{ jobs: string }>(left);
    if (Number(row?.jobs) === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  const ended = performance.now();
  const longest = await waits.stop();
  await stop();
  const [written] = await database.rows<{ contacts: string }>(
    'SELECT COUNT(*) AS contacts FROM contact WHERE import_id = UNHEX(:id)',
    { id: sent.id.replaceAll('-', '') },
  );
  const bare = (await loadAgain(services, sent.id)) + (await lookUp(services, tag));
  print({
    name: `importing ${rows} rows against LOAD DATA LOCAL of all it writes and the bare look-ups for doubles`,
    value: ended - started,
    unit: 'ms',
    baseline: bare,
    ratio: (ended - started) / bare,
    aim: 6,
    note: `${written?.contacts} contacts; read and judged after ${Math.round(read - started)} ms`,
  });
  print({
    name: 'the longest that another request waited while they were imported, against 100 ms',
    value: longest,
    unit: 'ms',
    baseline: 100,
    ratio: longest / 100,
    aim: 1,
  });
}

/** What a server does each night begins when it starts first on a day: it is no part of the import. */
async function untilNothingIsDue({ database, clock }: Services): Promise<void> {
  const due = `SELECT COUNT(*) AS jobs FROM job WHERE state IN ('due', 'claimed', 'acting') AND due_at <= :now`;
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, 500));
    const [row] = await database.rows<{ jobs: string }>(due, { now: sqlInstant(clock.now()) });
    if (Number(row?.jobs) === 0) return;
  }
}

/** A server as it is shipped, in a process of its own: what it answers is not held up by whoever asks. @returns how to stop it */
async function startServer(now: string): Promise<() => Promise<unknown>> {
  const server = spawn(process.execPath, [path.join(import.meta.dirname, 'main.mjs')], {
    env: {
      ...process.env,
      KETTLE_PORT: new URL(origin).port,
      KETTLE_PUBLIC_ORIGIN: origin,
      KETTLE_LOG: 'silent',
      KETTLE_NOW: now,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await once(server.stdout, 'data');
  return () => {
    server.kill('SIGTERM');
    return once(server, 'exit');
  };
}

function fileText(tag: string): string {
  const lines = ['First name,Last name,Company,E-mail,Phone,Country'];
  for (let n = 0; n < rows; n += 1)
    lines.push(
      `Given${n},Family${n % 977},Firm ${tag} ${n % firms},p${n}.${tag}@firm${n % firms}.example,,GB`,
    );
  return lines.join('\n');
}

async function signIn() {
  const headers: Record<string, string> = { 'content-type': 'application/json', origin };
  const send = async <Reply>(method: string, at: string, body: unknown): Promise<Reply> => {
    const response = await fetch(origin + at, { method, headers, body: JSON.stringify(body) });
    if (!response.ok) throw new Error(`${at} answered ${response.status}: ${await response.text()}`);
    headers.cookie ??= response.headers.get('set-cookie')?.split(';')[0] ?? '';
    return (await response.json()) as Reply;
  };
  await send('POST', '/api/session', {
    email: 'bench@hollinbeck.example',
    password: 'a long enough password',
  });
  return { send };
}

const watching = `
  const { parentPort, workerData } = require('node:worker_threads');
  let longest = 0;
  parentPort.once('message', () => { parentPort.postMessage(longest); process.exit(0); });
  void (async () => {
    // The first one also loads what fetch is made of.
    await fetch(workerData);
    for (;;) {
      const start = performance.now();
      await fetch(workerData).catch(() => undefined);
      longest = Math.max(longest, performance.now() - start);
      await new Promise((resolve) => setTimeout(resolve, 15));
    }
  })();`;

/** Asks for something small again and again, in a thread of its own: what the one that sends the file does is no wait. */
function watchOthers(): { stop(): Promise<number> } {
  const watcher = new Worker(watching, { eval: true, workerData: `${origin}/api/health` });
  return {
    stop: async () => {
      watcher.postMessage('stop');
      const [longest] = (await once(watcher, 'message')) as [number];
      return longest;
    },
  };
}

/** Every row of the import, written again into empty tables of the same shape. @returns milliseconds */
async function loadAgain({ database }: Services, importId: string): Promise<number> {
  const id = `UNHEX('${importId.replaceAll('-', '')}')`;
  const sets = `(SELECT set_id FROM import_batch WHERE id = ${id})`;
  const parts: readonly [string, string][] = [
    ['contact', `import_id = ${id}`],
    ['company', `id IN (SELECT company_id FROM contact WHERE import_id = ${id})`],
    ['import_row', `import_id = ${id}`],
    ['change_set', `id = ${sets} OR parent_id = ${sets}`],
    ['change_row', `set_id IN (SELECT id FROM change_set WHERE id = ${sets} OR parent_id = ${sets})`],
    ['event', `set_id IN (SELECT id FROM change_set WHERE id = ${sets} OR parent_id = ${sets})`],
  ];
  let millis = 0;
  for (const [table, where] of parts) {
    const columns = await database.rows<{ name: string; type: string }>(
      `SELECT column_name AS name, data_type AS type FROM information_schema.columns
        WHERE table_schema = DATABASE() AND table_name = :table AND is_generated = 'NEVER' ORDER BY ordinal_position`,
      { table },
    );
    const read = columns.map(({ name, type }) =>
      isBytes(type) ? `HEX(\`${name}\`) AS \`${name}\`` : `\`${name}\``,
    );
    const lines = await database.rows<Record<string, string | number | null>>(
      `SELECT ${read.join(', ')} FROM ${table} WHERE ${where}`,
    );
    await database.change(`CREATE OR REPLACE TABLE bench_${table} LIKE ${table}`);
    const text = lines
      .map((line) => columns.map(({ name }) => fieldOf(line[name] ?? null)).join('\t'))
      .join('\n');
    const into = columns.map(({ name, type }) => (isBytes(type) ? `@${name}` : `\`${name}\``));
    const set = columns
      .filter(({ type }) => isBytes(type))
      .map(({ name }) => `\`${name}\` = UNHEX(@${name})`);
    const connection = await database.pool.getConnection();
    const start = performance.now();
    await connection.query({
      sql: `LOAD DATA LOCAL INFILE 'rows' INTO TABLE bench_${table} CHARACTER SET utf8mb4 (${into.join(', ')}) SET ${set.join(', ')}`,
      infileStreamFactory: () => Readable.from(chunksOf(Buffer.from(text))),
    });
    millis += performance.now() - start;
    connection.release();
    await database.change(`DROP TABLE bench_${table}`);
  }
  return millis;
}

const chunkBytes = 1024 * 1024;

function* chunksOf(bytes: Buffer): Generator<Buffer> {
  for (let from = 0; from < bytes.length; from += chunkBytes) yield bytes.subarray(from, from + chunkBytes);
}

const isBytes = (type: string) => /binary|blob/.test(type);
const fieldOf = (value: string | number | null) =>
  value === null
    ? '\\N'
    : String(value).replaceAll('\\', '\\\\').replaceAll('\t', '\\t').replaceAll('\n', '\\n');

/** The questions whether an address, a firm or somebody at it is known, asked once for every row. @returns milliseconds */
async function lookUp({ database }: Services, tag: string): Promise<number> {
  const start = performance.now();
  for (let from = 0; from < rows; from += 1000)
    await database.rows(
      'SELECT given_name, family_name, company_name, email, phone FROM contact WHERE email IN (:values)',
      {
        values: Array.from(
          { length: 1000 },
          (_, n) => `p${from + n}.${tag}x@firm${(from + n) % firms}.example`,
        ),
      },
    );
  for (let from = 0; from < firms; from += 500)
    await database.rows(
      'SELECT c.id, co.name_key FROM company co JOIN contact c ON c.company_id = co.id WHERE co.name_key IN (:firms)',
      { firms: Array.from({ length: 500 }, (_, n) => `firm ${tag}x ${from + n}`) },
    );
  return performance.now() - start;
}
