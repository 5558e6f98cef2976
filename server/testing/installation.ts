import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { EndpointName, ReplyOf, Role, UserId } from '@kettle/contract';
import { endpoints } from '@kettle/contract';
import type { Express } from 'express';
import mysql from 'mysql2/promise';
import { pino } from 'pino';
import request, { type Response } from 'supertest';
import { makeApp } from '../src/app';
import type { Channels } from '../src/platform/channels';
import { fetchOutside } from '../src/platform/outside/fetch-outside';
import type { Clock } from '../src/platform/clock';
import { openDatabase } from '../src/platform/database/database';
import { Keys } from '../src/platform/database/keys';
import { writeDefaults } from '../src/defaults';
import { follows } from '../src/follows';
import { ChangeFeed } from '../src/platform/change-feed/feed';
import { Calendars, Settings } from '../src/records/settings/index';
import { readConcerned } from '../src/records/rights/index';
import { sqlInstant } from '../src/platform/database/values';
import { addUser, hashOfToken, openSession, sessionCookieName } from '../src/records/users/index';
import { heavyTasks, makeWorker, quickTasks } from '../src/features';
import { heavyHere } from '../src/platform/heavy';
import type { Services } from '../src/platform/services';
import { writingAt } from '../src/platform/work/work';

export const migrations = path.join(
  import.meta.dirname ?? __dirname,
  '..',
  'src',
  'platform',
  'database',
  'migrations',
);
export const password = 'a long enough password';
const origin = 'http://kettle.test';

/** A clock that stands still until a test moves it: a Tuesday, ten past nine in London. */
export class StoppedClock implements Clock {
  constructor(private at = '2026-11-24T09:10:00.000Z') {}
  now = () => this.at;
  millis = () => Date.parse(this.at);
  ahead = () => this.millis() - Date.now();
  set(at: string): void {
    this.at = at;
  }
}

/** A schema of its own on the database server of the test run: empty, or with every table there is. */
export async function makeSchema(
  holds: 'nothing' | 'tables' | 'tables of its own' = 'nothing',
): Promise<{ url: string; drop: () => Promise<void> }> {
  const base = process.env.KETTLE_TEST_DATABASE;
  if (!base) throw new Error('the test database was not started');
  const connection = await mysql.createConnection({ uri: base, multipleStatements: true });
  const used = holds === 'tables' ? await takeEmptied(connection) : undefined;
  const name = used ?? `kettle_${randomUUID().replaceAll('-', '').slice(0, 16)}`;
  if (used === undefined) await connection.query(`CREATE DATABASE ${name}`);
  if (holds !== 'nothing' && used === undefined) await copyTables(`${base}${name}`);
  return {
    url: `${base}${name}`,
    drop: async () => {
      if (holds === 'tables') {
        await empty(connection, name);
        await connection.query('INSERT INTO kettle_pool.emptied VALUES (?)', [name]);
      } else await connection.query(`DROP DATABASE IF EXISTS ${name}`);
      await connection.end();
    },
  };
}

/** A schema that an earlier installation gave back: deleting its rows takes a small part of the time of making it anew. */
async function takeEmptied(connection: mysql.Connection): Promise<string | undefined> {
  const [rows] = await connection.query<mysql.RowDataPacket[]>(
    'DELETE FROM kettle_pool.emptied LIMIT 1 RETURNING name',
  );
  return rows[0] && String(rows[0].name);
}

const keptRows = new Set(['schema_version']);

async function empty(connection: mysql.Connection, name: string): Promise<void> {
  const [tables] = await connection.query<mysql.RowDataPacket[]>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE'",
    [name],
  );
  const names = tables.map((row) => String(row.name)).filter((table) => !keptRows.has(table));
  const [filled] = await connection.query<mysql.RowDataPacket[]>(
    names.map((table) => `(SELECT '${table}' AS name FROM ${name}.${table} LIMIT 1)`).join(' UNION ALL '),
  );
  const deletes = filled.map((row) => `DELETE FROM ${name}.${String(row.name)};`).join(' ');
  await connection.query(`SET foreign_key_checks = 0; ${deletes} SET foreign_key_checks = 1;`);
}

async function copyTables(url: string): Promise<void> {
  const connection = await mysql.createConnection({ uri: url, multipleStatements: true });
  await connection.query(readFileSync(process.env.KETTLE_TEST_SCHEMA ?? '', 'utf8'));
  await connection.end();
}

/** Somebody signed in, calling routes by their names. */
export interface Caller {
  readonly id: UserId;
  call(
    name: EndpointName,
    call?: {
      params?: Record<string, string>;
      query?: object;
      body?: object;
      /** The id a browser gives the change. */
      changeId?: string;
      /** The languages that the browser asks for. */
      language?: string;
      /** The tag of what the browser has already. */
      known?: string;
      /** A file is expected: the body is its bytes. */
      isFile?: boolean;
    },
  ): Promise<Response>;
  /** Sends bytes as a file. */
  upload(query: object, bytes: Buffer, to?: 'uploadFile' | 'addMailFile'): Promise<Response>;
  /** Calls and expects 200. */
  ok<Name extends EndpointName>(name: Name, call?: Parameters<Caller['call']>[1]): Promise<ReplyOf<Name>>;
}

export interface Installation {
  readonly app: Express;
  readonly services: Services;
  readonly clock: StoppedClock;
  readonly url: string;
  as(role: Role, name?: string): Promise<Caller>;
  nobody: Caller['call'];
  /** Carries out all background work that is due. */
  work(): Promise<void>;
  /** The same by a worker of another server over the same database. */
  workElsewhere(): Promise<void>;
  /** Breaks every connection to the database, as a restart of its server does. */
  breakConnections(): Promise<void>;
  close(): Promise<void>;
}

export const testKeys = new Keys([{ id: 'test', bytes: Buffer.alloc(32, 7) }]);

/** No way outside is set up; a test that needs one gives it. */
const noChannels: Channels = {
  mailOut: null,
  textGateway: null,
  phoneLine: null,
  publicOrigin: origin,
  mailDomain: 'kettle.test',
  mailAuthority: 'mx.kettle.test',
  fetchOutside: fetchOutside({ allowed: [] }),
  gatewaySecret: null,
};

export async function install(channels: Partial<Channels> = {}): Promise<Installation> {
  const schema = await makeSchema('tables');
  const clock = new StoppedClock();
  const database = openDatabase(schema.url, { connections: 6, keys: testKeys });
  const services: Services = {
    database,
    clock,
    feed: new ChangeFeed(database, readConcerned, {
      everyMillis: 60,
      togetherMillis: 200,
      blindMillis: 8000,
    }),
    calendars: new Calendars(clock),
    settings: new Settings(),
    channels: { ...noChannels, ...channels },
    follows,
    heavy: heavyHere(heavyTasks(), () => services),
    quick: heavyHere(quickTasks(), () => services),
    log: pino({ level: process.env.KETTLE_LOG ?? 'silent' }),
  };
  await writeDefaults(services);
  const app = makeApp(services, { publicOrigin: origin, checkReplies: true });
  const worker = makeWorker(services);
  let made = 0;
  return {
    app,
    services,
    clock,
    url: schema.url,
    nobody: (name, call = {}) => send(app, name, call, null),
    as: async (role, name) => {
      made += 1;
      const email = `${role}${made}@hollinbeck.example`;
      const id = await addUser(writingAt(database, clock.now()), {
        ...{ name: name ?? `${role} ${made}`, email, password, role },
        ...{ zone: 'Europe/London', country: 'GB' },
      });
      const token = await openSession(services, id);
      const cookie = `${sessionCookieName(services)}=${token}`;
      let seenAt = clock.now();
      const call: Caller['call'] = async (endpoint, parts = {}) => {
        // However far a test moves the clock, its people were at work in between.
        if (clock.now() !== seenAt) {
          seenAt = clock.now();
          await database.change('UPDATE session SET seen_at = :now WHERE token_hash = :hash', {
            now: sqlInstant(seenAt),
            hash: hashOfToken(token),
          });
        }
        return send(app, endpoint, parts, cookie);
      };
      return {
        id,
        call,
        upload: (query, bytes, to = 'uploadFile') =>
          request(app)
            .post(endpoints[to].split(' ')[1]!)
            .set('Origin', origin)
            .set('Cookie', cookie)
            .set('Content-Type', 'application/octet-stream')
            .query(query)
            .send(bytes),
        ok: async (endpoint, parts) => {
          const response = await call(endpoint, parts);
          if (response.status !== 200)
            throw new Error(`${endpoint} answered ${response.status}: ${response.text}`);
          return response.body as never;
        },
      };
    },
    work: async () => {
      while (await worker.round());
    },
    workElsewhere: async () => {
      const elsewhere = makeWorker(services);
      while (await elsewhere.round());
    },
    breakConnections: async () => {
      const admin = await mysql.createConnection({ uri: process.env.KETTLE_TEST_DATABASE ?? '' });
      const [open] = await admin.query<mysql.RowDataPacket[]>(
        'SELECT id FROM information_schema.processlist WHERE db = ?',
        [database.name],
      );
      for (const { id } of open) await admin.query(`KILL CONNECTION ${Number(id)}`).catch(() => undefined);
      await admin.end();
    },
    close: async () => {
      services.feed.stop();
      await database.close();
      await schema.drop();
    },
  };
}

function send(
  app: Express,
  name: EndpointName,
  call: NonNullable<Parameters<Caller['call']>[1]>,
  cookie: string | null,
) {
  const [method, route] = endpoints[name].split(' ') as [string, string];
  const filled = route.replace(/:(\w+)/g, (_, key: string) => call.params?.[key] ?? randomUUID());
  const sent = request(app)[method.toLowerCase() as 'get'](filled).set('Origin', origin);
  if (cookie) sent.set('Cookie', cookie);
  if (call.changeId) sent.set('X-Change-Id', call.changeId);
  if (call.language) sent.set('Accept-Language', call.language);
  if (call.known) sent.set('If-None-Match', call.known);
  if (call.query) sent.query(call.query);
  if (call.isFile === true) sent.responseType('blob');
  return call.body ? sent.send(call.body) : sent;
}
