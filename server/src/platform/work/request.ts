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

/** How and in what language words are written: what a request's computation in another thread is told of it. */
export type Saying = Pick<RequestContext, 'locale' | 'language'>;

/** Runs something so that its words are written as whoever asked would have them; it changes nothing. */
export const sayingAs = <Result>(saying: Saying, run: () => Result): Result =>
  requestContext.run(
    {
      ...saying,
      changeId: null,
      act: 'reading',
      isUsed: true,
      hash: () => Promise.reject(new Error('a reading has none')),
    },
    run,
  );

/** Which request a unit of work belongs to, without handing it through every function between. */
export const requestContext = new AsyncLocalStorage<RequestContext>();

/** The language of what a request answers; background work says things in English. */
export const languageOfRequest = (): string => requestContext.getStore()?.language ?? 'en';

/** How dates and numbers are written in what a request answers; background work writes them as in Britain. */
export const localeOfRequest = (): string => requestContext.getStore()?.locale ?? 'en-GB';
