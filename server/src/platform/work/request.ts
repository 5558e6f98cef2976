import { AsyncLocalStorage } from 'node:async_hooks';

/** What a request brings to the units of work it causes. */
export interface RequestContext {
  /** The id the browser gave the change, for the first unit of work of the request. */
  readonly changeId: string | null;
  /** What was asked for: the route's name. */
  readonly act: string;
  /** Of what was asked: the same id with something else is no repetition. */
  readonly hash: () => Promise<Buffer>;
  isUsed: boolean;
  /** How dates and numbers are written for whoever asks. */
  readonly locale: string;
  /** Which language it is answered in: `en`, or one that was built beside it. */
  readonly language: string;
}

/** Which request a unit of work belongs to, without handing it through every function between. */
export const requestContext = new AsyncLocalStorage<RequestContext>();

/** The language of what a request answers; background work says things in English. */
export const languageOfRequest = (): string => requestContext.getStore()?.language ?? 'en';

/** How dates and numbers are written in what a request answers; background work writes them as in Britain. */
export const localeOfRequest = (): string => requestContext.getStore()?.locale ?? 'en-GB';
