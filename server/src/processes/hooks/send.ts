import {
  hookFailingDays,
  hookRetrySeconds,
  tryEvent,
  type HookEventName,
  type HookMessage,
} from '@kettle/contract';
import * as z from 'zod';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { enqueue, type NewJob } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { OutsideFailure, OutsideRefusal } from '../../platform/outside/fetch-outside';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { sendHookKind } from './hear';
import { findHook, messageId, secretsOf, type HookRow } from './hooks';
import { messageOf } from './message';
import { signed } from './sign';

/** What an address answered: nothing is wrong when `failure` is null. */
export interface Sent {
  readonly status: number | null;
  readonly failure: string | null;
  /** Nobody is there, or has too much to do: the others need not be tried now. */
  readonly isAway: boolean;
  /** It may not be told at all, whatever it would answer. */
  readonly isRefused?: boolean;
}

const gone = 410;
/** It answers, and cannot take anything just now. */
const busy = new Set([429, 502, 503, 504]);

/** Sends one message, signed, to an address and nowhere it leads to. */
export async function send(
  { channels, clock }: Pick<Services, 'channels' | 'clock'>,
  url: string,
  id: string,
  message: HookMessage,
  secrets: readonly string[],
): Promise<Sent> {
  const body = JSON.stringify(message);
  // Whoever reads it goes by a clock of their own, which a demo’s is not.
  const realMillis = clock.millis() - clock.ahead();
  try {
    const { status } = await channels.fetchOutside(url, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json', ...signed(id, realMillis, body, secrets) },
      ...{ hops: 0, isSecret: true },
    });
    if (status >= 200 && status < 300) return { status, failure: null, isAway: false };
    return { status, failure: $localize`It answered ${status}:status:.`, isAway: busy.has(status) };
  } catch (error) {
    if (!(error instanceof OutsideFailure)) throw error;
    return { status: null, failure: error.message, isAway: true, isRefused: error instanceof OutsideRefusal };
  }
}

/** Sends something of no meaning, to see what is answered. */
export function sendTry(
  services: Services,
  url: string,
  who: { readonly id: string },
  secrets: readonly string[],
): Promise<Sent> {
  const id = newId<string>();
  return send(
    services,
    url,
    messageId(id),
    {
      type: tryEvent,
      timestamp: services.clock.now(),
      data: {
        ...{ id, record: tryEvent, href: null, userId: who.id, changeId: id },
        ...{ about: [], fields: [], from: null, to: null },
      },
    },
    secrets,
  );
}

/** For so long nobody else takes what was taken; an address is given up long before. */
const takenSeconds = 60;
/** One turn tells so many; then others of the lane have theirs. */
const mostATurn = 100;
const turnMillis = 40_000;

/** Tells an address what waits for it. It may be told twice after a crash, with the same id; nothing is told in no order. */
export const sendHookJob = (services: Services): JobKind => ({
  words: $localize`telling a web hook`,
  effect: 'guarded',
  lane: 'patient',
  run: async (payload) => {
    const { id } = z.object({ id: z.string() }).parse(payload);
    await sendWaiting(services, id.includes('-') ? id : idOf<string>(Buffer.from(id, 'hex')));
  },
});

/** Those for which something waits and whose work was lost: asked again each hour. */
export async function dueHooks({ database }: Services, now: string): Promise<readonly NewJob[]> {
  const rows = await database.rows<Pick<HookRow, 'id'>>(
    `SELECT h.id FROM hook h WHERE h.is_on = 1 AND h.removed_at IS NULL
        AND EXISTS (SELECT 1 FROM hook_call c WHERE c.hook_id = h.id AND c.state = 'waiting' AND c.due_at < :now) ORDER BY h.id`,
    { now: sqlInstant(now) },
  );
  return rows.map(({ id }) => jobOf(idOf(id), now.slice(0, 13), now));
}

/** @param keyEnd what tells this asking from another */
export const jobOf = (hookId: string, keyEnd: string, dueAt: string): NewJob => ({
  kind: sendHookKind,
  dedupeKey: `${sendHookKind}:${hookId}:${keyEnd}`,
  payload: { id: hookId },
  dueAt,
});

type CallRow = Row<'hook_call', 'event_id' | 'type' | 'tries'>;

async function sendWaiting(services: Services, hookId: string): Promise<void> {
  const { database, clock } = services;
  const began = performance.now();
  for (let n = 0; ; n += 1) {
    const hook = await findHook(database, hookId);
    if (hook?.is_on !== 1) return;
    const call = await take(services, hookId);
    if (call === null) return;
    if (n === mostATurn || performance.now() - began > turnMillis) {
      await untake(services, hookId, call);
      return enqueue(database, jobOf(hookId, newId<string>(), clock.now()));
    }
    const message = await messageOf(database, call.event_id, call.type as HookEventName);
    if (message === null) {
      const words = $localize`What it was about was erased.`;
      await settle(services, hook, call, { status: null, failure: words, isAway: false }, 'given-up');
      continue;
    }
    const secrets = await secretsOf(database, hookId, clock.now());
    const sent = await send(services, hook.url, messageId(idOf<string>(call.event_id)), message, secrets);
    if (sent.failure === null) await settle(services, hook, call, sent, 'sent');
    else if (!(await fail(services, hook, call, sent))) return;
  }
}

/** The one that waits longest, for ourselves. */
async function take({ database, clock }: Services, hookId: string): Promise<CallRow | null> {
  const token = bytesOf(newId<string>());
  const now = clock.now();
  const taken = await database.change(
    `UPDATE hook_call SET taken_by = :token, taken_until = :now + INTERVAL ${takenSeconds} SECOND
      WHERE hook_id = :hook AND state = 'waiting' AND due_at <= :now AND (taken_until IS NULL OR taken_until < :now)
      ORDER BY due_at, event_id LIMIT 1`,
    { token, hook: bytesOf(hookId), now: sqlInstant(now) },
  );
  if (taken === 0) return null;
  const [row] = await database.rows<CallRow>(
    'SELECT event_id, type, tries FROM hook_call WHERE taken_by = :token',
    { token },
  );
  return row ?? null;
}

async function untake({ database }: Services, hookId: string, { event_id: event }: CallRow): Promise<void> {
  await database.change(
    'UPDATE hook_call SET taken_by = NULL, taken_until = NULL WHERE hook_id = :hook AND event_id = :event',
    { hook: bytesOf(hookId), event },
  );
}

async function settle(
  { database, clock }: Services,
  hook: HookRow,
  call: CallRow,
  { status, failure }: Sent,
  state: 'sent' | 'given-up' | 'waiting',
  dueAt = clock.now(),
): Promise<void> {
  await database.change(
    `UPDATE hook_call SET state = :state, status = :status, failure = :failure, tried_at = :now, tries = tries + 1,
            due_at = :dueAt, taken_by = NULL, taken_until = NULL WHERE hook_id = :hook AND event_id = :event`,
    {
      ...{ hook: hook.id, event: call.event_id, state, status, failure: failure?.slice(0, 500) ?? null },
      ...{ now: sqlInstant(clock.now()), dueAt: sqlInstant(dueAt) },
    },
  );
  if (state === 'given-up' && status === null) return;
  await noteTried(database, hook.id, failure, clock.now());
}

/** How it went with an address, on the hook itself. */
export async function noteTried(
  db: Services['database'],
  hookId: Buffer,
  failure: string | null,
  now: string,
): Promise<void> {
  await db.change(
    `UPDATE hook SET tried_at = :now, failure = :failure,
            failing_since = IF(:failure IS NULL, NULL, COALESCE(failing_since, :now)) WHERE id = :id`,
    { id: hookId, failure: failure?.slice(0, 500) ?? null, now: sqlInstant(now) },
  );
}

/** @returns whether the next one is to be tried now */
async function fail(services: Services, hook: HookRow, call: CallRow, sent: Sent): Promise<boolean> {
  const { database, clock } = services;
  const now = clock.now();
  const hookId = idOf<string>(hook.id);
  const seconds = hookRetrySeconds[call.tries];
  const isLast = seconds === undefined;
  const nextAt = new Date(clock.millis() + (seconds ?? 0) * 1000).toISOString();
  await settle(services, hook, call, sent, isLast ? 'given-up' : 'waiting', isLast ? now : nextAt);
  const since = hook.failing_since === null ? now : instantOf(hook.failing_since);
  const days = (clock.millis() - Date.parse(since)) / 86_400_000;
  if (sent.status === gone || days >= hookFailingDays) {
    await switchOff(services, hook, sent.status === gone ? 'gone' : 'failing');
    return false;
  }
  if (!isLast)
    await enqueue(database, jobOf(hookId, `${idOf<string>(call.event_id)}:${call.tries + 1}`, nextAt));
  if (sent.isAway && !isLast) {
    // Whoever is away is away for all of them: they wait with it, without a try of theirs being counted.
    await database.change(
      `UPDATE hook_call SET due_at = :next WHERE hook_id = :hook AND state = 'waiting' AND due_at < :next AND taken_by IS NULL`,
      { hook: hook.id, next: sqlInstant(nextAt) },
    );
    return false;
  }
  return true;
}

async function switchOff(services: Services, hook: HookRow, because: 'failing' | 'gone'): Promise<void> {
  await work(
    services,
    null,
    async (w) => {
      await w.change(
        `UPDATE hook SET is_on = 0, off_because = :because, changed_at = :now, version = version + 1 WHERE id = :id AND is_on = 1`,
        { id: hook.id, because, now: sqlInstant(w.now) },
      );
      w.say($localize`Web hook switched off: ${hook.name}:name:`);
      const words =
        because === 'gone'
          ? $localize`The web hook “${hook.name}:name:” is switched off: its address says that it is gone for good.`
          : $localize`The web hook “${hook.name}:name:” is switched off: its address has failed for ${hookFailingDays}:days: days.`;
      await notify(w, 'trouble', [idOf<string>(hook.user_id)], words, '/settings?part=hooks', true);
    },
    { act: 'hook-off' },
  );
}
