import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import {
  addHook,
  callAgain,
  changeHook,
  listCalls,
  listHooks,
  readHook,
  removeHook,
  renewSecret,
  secretsOf,
} from './hooks';
import { jobOf, noteTried, sendTry, type Sent } from './send';
import { newSecret } from './sign';

type Names =
  | 'listHooks'
  | 'addHook'
  | 'changeHook'
  | 'removeHook'
  | 'renewHookSecret'
  | 'tryHook'
  | 'listHookCalls'
  | 'sendHookCallAgain';

export function hooksRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  const read = (id: string) => readHook(database, clock.now(), id);
  const secretOf = async (id: string) => (await secretsOf(database, id, clock.now()))[0]!;
  /** @throws Problem at the field for what may never be told; an address that only does not answer yet is taken */
  const tryAt = async (url: string, who: { readonly id: string }, secrets: readonly string[]) => {
    const sent = await sendTry(services, url, who, secrets);
    if (sent.isRefused === true)
      throw new Problem('invalid-request', {}, { fields: [{ path: 'url', message: sent.failure! }] });
    return sent;
  };
  const note = (id: string, { failure }: Sent) => noteTried(database, bytesOf(id), failure, clock.now());
  return {
    listHooks: async () => ({ hooks: await listHooks(database, clock.now()) }),
    addHook: async ({ body, who }) => {
      const secret = newSecret();
      const sent = await tryAt(body.url, who, [secret]);
      const id = await work(services, who, (w) => addHook(w, body, secret));
      await note(id, sent);
      return { hook: await read(id), secret: await secretOf(id) };
    },
    changeHook: async ({ params, body, who }) => {
      const before = await read(params.id);
      const secrets = await secretsOf(database, params.id, clock.now());
      const sent = body.url === before.url ? null : await tryAt(body.url, who, secrets);
      await work(services, who, (w) => changeHook(w, params.id, body));
      if (sent !== null) await note(params.id, sent);
      const hook = await read(params.id);
      if (hook.isOn) await enqueue(database, jobOf(hook.id, newId<string>(), clock.now()));
      return hook;
    },
    removeHook: async ({ params, who }) => {
      await work(services, who, (w) => removeHook(w, params.id));
      return { ok: true };
    },
    renewHookSecret: async ({ params, who }) => {
      await work(services, who, (w) => renewSecret(w, params.id, newSecret()));
      return { hook: await read(params.id), secret: await secretOf(params.id) };
    },
    tryHook: async ({ params, who }) => {
      const { url } = await read(params.id);
      const sent = await sendTry(services, url, who, await secretsOf(database, params.id, clock.now()));
      await note(params.id, sent);
      return { hook: await read(params.id), status: sent.status, failure: sent.failure };
    },
    listHookCalls: async ({ params }) => {
      await read(params.id);
      return listCalls(database, params.id);
    },
    sendHookCallAgain: async ({ params }) => {
      await read(params.id);
      await callAgain(database, params.id, params.eventId, clock.now());
      await enqueue(database, jobOf(params.id, newId<string>(), clock.now()));
      return { ok: true };
    },
  };
}
