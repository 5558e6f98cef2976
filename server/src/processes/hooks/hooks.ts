import type {
  addHook as added,
  changeHook as changed,
  Hook,
  HookCall,
  HookEventName,
} from '@kettle/contract';
import { formerSecretHours, hookEventNames, hookEvents, mostHooks, type HookId } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable, WithKeys } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork, Writing } from '../../platform/work/work';

export type HookRow = Row<
  'hook',
  | 'id'
  | 'name'
  | 'url'
  | 'is_on'
  | 'off_because'
  | 'user_id'
  | 'tried_at'
  | 'failing_since'
  | 'failure'
  | 'version'
>;

const columns =
  'h.id, h.name, h.url, h.is_on, h.off_because, h.user_id, h.tried_at, h.failing_since, h.failure, h.version';

/** One that was not removed. */
export async function findHook(db: Queryable, id: string): Promise<HookRow | null> {
  const [row] = await db.rows<HookRow>(
    `SELECT ${columns} FROM hook h WHERE h.id = :id AND h.removed_at IS NULL`,
    { id: bytesOf(id) },
  );
  return row ?? null;
}

export async function listHooks(db: Queryable, now: string): Promise<Hook[]> {
  return read(db, now, '');
}

/** @throws Problem `not-found` */
export async function readHook(db: Queryable, now: string, id: string): Promise<Hook> {
  const [hook] = await read(db, now, 'AND h.id = :id', { id: bytesOf(id) });
  if (!hook) throw new Problem('not-found');
  return hook;
}

async function read(db: Queryable, now: string, where: string, parameters = {}): Promise<Hook[]> {
  const rows = await db.rows<
    HookRow & { former_until: string | null; waiting: string; events: string | null }
  >(
    `SELECT ${columns}, s.former_until,
            (SELECT COUNT(*) FROM hook_call c WHERE c.hook_id = h.id AND c.state = 'waiting') AS waiting,
            (SELECT GROUP_CONCAT(e.name) FROM hook_event e WHERE e.hook_id = h.id) AS events
       FROM hook h JOIN hook_secret s ON s.hook_id = h.id WHERE h.removed_at IS NULL ${where} ORDER BY h.created_at, h.id`,
    parameters,
  );
  return rows.map((row) => {
    const names = new Set((row.events ?? '').split(','));
    const until = instantOrNull(row.former_until);
    return {
      ...{ id: idOf<HookId>(row.id), name: row.name, url: row.url },
      events: hookEventNames.filter((name) => names.has(name)),
      ...{ isOn: row.is_on === 1, off: row.off_because },
      ...{ triedAt: instantOrNull(row.tried_at), failingSince: instantOrNull(row.failing_since) },
      ...{ failure: row.failure, waiting: wholeNumber(row.waiting) },
      formerUntil: until !== null && until > now ? until : null,
      version: row.version,
    };
  });
}

const secretPlace = (id: string, which: 'secret' | 'former') => `hook_secret:${id}:${which}`;

/** The secret that counts, and the one before it while that still does. */
export async function secretsOf(db: WithKeys, hookId: string, now: string): Promise<readonly string[]> {
  const [row] = await db.rows<Row<'hook_secret', 'secret' | 'former' | 'former_until'>>(
    'SELECT secret, former, former_until FROM hook_secret WHERE hook_id = :id',
    { id: bytesOf(hookId) },
  );
  if (!row) throw new Problem('not-found');
  const open = (which: 'secret' | 'former', sealed: Buffer) =>
    db.keys.open(secretPlace(hookId, which), sealed).toString('utf8');
  const isFormer = row.former !== null && row.former_until !== null && instantOf(row.former_until) > now;
  return [open('secret', row.secret), ...(isFormer ? [open('former', row.former!)] : [])];
}

/** Seals with the first key of the key file what was sealed with another. @throws Error when a key is not in the file */
export async function sealHookSecrets(db: WithKeys): Promise<void> {
  const rows = await db.rows<Row<'hook_secret', 'hook_id' | 'secret' | 'former'>>(
    'SELECT hook_id, secret, former FROM hook_secret ORDER BY hook_id',
  );
  for (const row of rows)
    for (const which of ['secret', 'former'] as const) {
      const sealed = row[which];
      if (sealed === null || db.keys.isFresh(sealed)) continue;
      const place = secretPlace(idOf(row.hook_id), which);
      await db.change(`UPDATE hook_secret SET ${which} = :again WHERE hook_id = :id AND ${which} = :sealed`, {
        ...{ id: row.hook_id, sealed },
        again: db.keys.seal(place, db.keys.open(place, sealed)),
      });
    }
}

/** @throws Problem `too-many-hooks` */
export async function addHook(
  w: PersonWork,
  { name, url, events }: z.output<typeof added>,
  secret: string,
): Promise<string> {
  const [{ n } = { n: '0' }] = await w.rows<{ n: string }>(
    'SELECT COUNT(*) AS n FROM hook WHERE removed_at IS NULL',
  );
  if (wholeNumber(n) >= mostHooks) throw new Problem('too-many-hooks', { most: mostHooks });
  const id = newId<string>();
  await w.change(
    `INSERT INTO hook (id, name, url, user_id, created_at, changed_at) VALUES (:id, :name, :url, :user, :now, :now)`,
    { id: bytesOf(id), name, url, user: bytesOf(w.who.id), now: sqlInstant(w.now) },
  );
  await w.change('INSERT INTO hook_secret (hook_id, secret) VALUES (:id, :secret)', {
    id: bytesOf(id),
    secret: w.keys.seal(secretPlace(id, 'secret'), Buffer.from(secret, 'utf8')),
  });
  await writeEvents(w, id, events);
  w.say($localize`Web hook added: ${name}:name:`);
  return id;
}

async function writeEvents(w: Writing, id: string, names: readonly HookEventName[]): Promise<void> {
  await w.change('INSERT INTO hook_event (hook_id, name, topic, kind) VALUES :rows', {
    rows: [...new Set(names)].map((name) => [
      bytesOf(id),
      name,
      hookEvents[name].topic,
      hookEvents[name].kind,
    ]),
  });
}

const fields: FieldsAt<z.output<typeof changed>> = {
  name: { column: 'name' },
  url: { column: 'url' },
  isOn: { column: 'is_on', read: (text) => text === '1' },
  events: { rows: 'hook_event', of: 'hook_id', item: ({ name }) => name },
};

/** Switched on again it is as if it had never failed: what waits goes out. @throws Problem `stale`, `not-found` */
export async function changeHook(w: PersonWork, id: string, asked: z.output<typeof changed>): Promise<void> {
  await w.rows('SELECT 1 FROM hook WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const record = await readHook(w, w.now, id);
  const { name, url, events, isOn } = await mergeChange(w, { table: 'hook', id, fields, asked, record });
  await w.change(
    `UPDATE hook SET name = :name, url = :url, is_on = :on, off_because = IF(:on = 1, NULL, off_because),
            failing_since = IF(:on = 1 AND (is_on = 0 OR url <> :url), NULL, failing_since),
            changed_at = :now, version = version + 1 WHERE id = :id`,
    { id: bytesOf(id), name, url, on: isOn ? 1 : 0, now: sqlInstant(w.now) },
  );
  const was = new Set<string>(record.events);
  const gone = record.events.filter((each) => !events.includes(each));
  const come = events.filter((each) => !was.has(each));
  if (gone.length > 0)
    await w.change('DELETE FROM hook_event WHERE hook_id = :id AND name IN (:gone)', {
      id: bytesOf(id),
      gone,
    });
  if (come.length > 0) await writeEvents(w, id, come);
  w.say($localize`Web hook changed: ${name}:name:`);
}

/** What waits for it waits until it is put back, thirty days at most. */
export async function removeHook(w: PersonWork, id: string): Promise<void> {
  const { name } = await readHook(w, w.now, id);
  await w.change(
    'UPDATE hook SET removed_at = :now, changed_at = :now, version = version + 1 WHERE id = :id',
    { id: bytesOf(id), now: sqlInstant(w.now) },
  );
  w.say($localize`Web hook removed: ${name}:name:`);
}

/** The former secret signs too for a day, so that the other side has the time to take the new one. */
export async function renewSecret(w: PersonWork, id: string, secret: string): Promise<void> {
  const { name } = await readHook(w, w.now, id);
  const [current] = await secretsOf(w, id, w.now);
  await w.change(
    `UPDATE hook_secret SET secret = :secret, former = :former, former_until = :now + INTERVAL ${formerSecretHours} HOUR
      WHERE hook_id = :id`,
    {
      ...{ id: bytesOf(id), now: sqlInstant(w.now) },
      secret: w.keys.seal(secretPlace(id, 'secret'), Buffer.from(secret, 'utf8')),
      former: w.keys.seal(secretPlace(id, 'former'), Buffer.from(current!, 'utf8')),
    },
  );
  w.say($localize`New secret for a web hook: ${name}:name:`);
}

/** As a receiver reads it. */
export const messageId = (eventId: IdBytes<string> | string): string =>
  `msg_${typeof eventId === 'string' ? eventId : idOf<string>(eventId)}`;

const callsListed = 100;

export async function listCalls(
  db: Queryable,
  hookId: string,
): Promise<{ calls: HookCall[]; isCut: boolean }> {
  const rows = await db.rows<
    Row<
      'hook_call',
      'event_id' | 'type' | 'made_at' | 'state' | 'due_at' | 'tries' | 'status' | 'failure' | 'tried_at'
    >
  >(
    `SELECT event_id, type, made_at, state, due_at, tries, status, failure, tried_at FROM hook_call
      WHERE hook_id = :id ORDER BY made_at DESC, event_id DESC LIMIT ${callsListed + 1}`,
    { id: bytesOf(hookId) },
  );
  const calls = rows.slice(0, callsListed).map((row) => ({
    ...{ eventId: idOf<string>(row.event_id), messageId: messageId(idOf<string>(row.event_id)) },
    ...{ type: row.type, madeAt: instantOf(row.made_at), state: row.state, tries: row.tries },
    ...{ status: row.status, failure: row.failure, triedAt: instantOrNull(row.tried_at) },
    nextAt: row.state === 'waiting' ? instantOf(row.due_at) : null,
  }));
  return { calls, isCut: rows.length > callsListed };
}

/** Makes one due now, whatever became of it. @throws Problem `not-found` */
export async function callAgain(db: Queryable, hookId: string, eventId: string, now: string): Promise<void> {
  const changedRows = await db.change(
    `UPDATE hook_call SET state = 'waiting', due_at = :now, tries = 0, taken_by = NULL, taken_until = NULL
      WHERE hook_id = :hook AND event_id = :event`,
    { hook: bytesOf(hookId), event: bytesOf(eventId), now: sqlInstant(now) },
  );
  if (changedRows === 0) throw new Problem('not-found');
}
