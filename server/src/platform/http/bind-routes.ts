import { localeOf } from '@kettle/core/locale';
import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import {
  endpoints,
  routes,
  type Access,
  type EndpointName,
  type ReplyOf,
  type RouteSpec,
  type Routes,
} from '@kettle/contract';
import { isAtLeast } from '@kettle/core/rights';
import type { Express, Request, Response } from 'express';
import * as z from 'zod';
import type { SignedIn } from '../../records/users/index';
import { invalidRequest } from './errors';
import { languageOf } from '../language/language';
import { requestContext, type RequestContext } from '../work/request';
import { Problem } from '../problem';

type Parsed<Spec, Key extends string> = Spec extends Record<Key, z.ZodType> ? z.output<Spec[Key]> : undefined;

/** What a handler is given: everything parsed, and who asks. */
export interface Call<Name extends EndpointName> {
  readonly params: Parsed<Routes[Name], 'params'>;
  readonly query: Parsed<Routes[Name], 'query'>;
  readonly body: Parsed<Routes[Name], 'body'>;
  readonly who: Routes[Name]['access'] extends 'anyone' ? SignedIn | null : SignedIn;
  readonly request: Request;
  readonly response: Response;
}

/** A reply that is JSON already: another thread wrote it. */
export class JsonReply {
  constructor(readonly text: string) {}
}

/** A handler returns the reply; one that writes the response itself returns `'answered'`. */
export type Handler<Name extends EndpointName> = (
  call: Call<Name>,
) => Promise<ReplyOf<Name> | JsonReply | 'answered'>;
export type Handlers = { readonly [Name in EndpointName]: Handler<Name> };

export interface Gate {
  /** @throws Problem where a key does not open what is asked for */
  signedIn(request: Request, name: EndpointName): Promise<SignedIn | null>;
  /** Counts one more use by somebody. @throws Problem `too-many-tries` when they had more than so many in an hour */
  limit(who: SignedIn, name: EndpointName, perHour: number): Promise<void>;
  /** @throws Problem where somebody may not do what is asked to a record the request names */
  check(who: SignedIn, spec: RouteSpec & { readonly changes: boolean }, asked: Asked): Promise<void>;
  readonly checkReplies: boolean;
}

/** What a request asks for, parsed. */
export interface Asked {
  readonly params: unknown;
  readonly query: unknown;
  readonly body: unknown;
}

/** Puts every route of the contract's table on the application: rights first, then parsing, then the handler. */
export function bindRoutes(app: Express, handlers: Handlers, gate: Gate): void {
  for (const name of namesInOrder()) {
    const [method, path] = endpoints[name].split(' ') as ['GET' | 'POST' | 'PUT' | 'DELETE', string];
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    const spec: RouteSpec = routes[name];
    app[verb](path, async (request, response) => {
      const who = spec.withoutSession === true ? null : await gate.signedIn(request, name);
      checkRights(spec.access, who);
      const context = contextOf(name, request, who);
      // What is wrong is said in the language of whoever asks.
      const call = requestContext.run(context, () => ({
        params: parsePart(spec.params, request.params, 'params'),
        query: parsePart(spec.query, request.query, 'query'),
        body: parsePart(spec.body, request.body, 'body'),
        who,
        request,
        response,
      }));
      if (who?.needsSecondFactor === true && spec.beforeSecondFactor !== true)
        throw new Problem('second-factor-needed');
      if (who !== null && spec.perHour !== undefined) await gate.limit(who, name, spec.perHour);
      if (who !== null) await gate.check(who, { ...spec, changes: method !== 'GET' }, call);
      // The table ties each name to its handler's types; a loop over names cannot carry that tie.
      const handler = handlers[name] as (call: unknown) => Promise<unknown>;
      const reply = await requestContext.run(context, () => handler(call));
      if (reply === 'answered') return;
      response.set('Cache-Control', 'no-store');
      if (reply instanceof JsonReply && !gate.checkReplies) response.type('json').send(reply.text);
      else {
        const whole: unknown = reply instanceof JsonReply ? JSON.parse(reply.text) : reply;
        response.json(gate.checkReplies ? spec.reply.parse(whole) : whole);
      }
    });
  }
}

/** A path that says a word where another takes any is asked first: `/contacts/count` before `/contacts/:id`. */
function namesInOrder(): EndpointName[] {
  const key = (name: EndpointName) => endpoints[name].replace(/:\w+/g, '~');
  return (Object.keys(endpoints) as EndpointName[]).sort((a, b) => (key(a) < key(b) ? -1 : 1));
}

/** The change's id as the browser gave it, for requests that change something. */
function contextOf(name: EndpointName, request: Request, who: SignedIn | null): RequestContext {
  const given = z.uuid().safeParse(request.get('x-change-id'));
  return {
    changeId: request.method === 'GET' || !given.success ? null : given.data,
    act: name,
    hash: () => hashOf(JSON.stringify([name, who?.id, request.params, request.query, request.body])),
    isUsed: false,
    locale: localeOf(who?.country ?? 'GB'),
    language: languageOf(request),
  };
}

const hashedAtOnce = 1_000_000;

/** SHA-256 of a text, a part at a time: a whole file in it holds up nobody else. */
async function hashOf(text: string): Promise<Buffer> {
  const hash = createHash('sha256');
  for (let from = 0; from < text.length; from += hashedAtOnce) {
    if (from > 0) await setImmediate();
    hash.update(text.slice(from, from + hashedAtOnce));
  }
  return hash.digest();
}

function checkRights(access: Access, who: SignedIn | null): void {
  if (access === 'anyone') return;
  if (who === null) throw new Problem('not-signed-in');
  if (!isAtLeast(who.role, access)) throw new Problem('not-allowed');
}

function parsePart(schema: z.ZodType | undefined, value: unknown, part: string): unknown {
  if (schema === undefined) return undefined;
  const parsed = schema.safeParse(value ?? {});
  if (!parsed.success) throw invalidRequest(parsed.error, part);
  return parsed.data;
}
