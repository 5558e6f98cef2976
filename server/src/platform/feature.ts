import type { EndpointName, Instant } from '@kettle/contract';
import type { Router } from 'express';
import type { HeavyTasks } from './heavy';
import type { Handlers } from './http/bind-routes';
import type { NewJob } from './jobs/job-table';
import type { JobKinds } from './jobs/worker';
import type { Services } from './services';

/** What one folder brings to the application. The composition root lists these values and knows nothing else of a feature. */
export interface Feature {
  /** As the folder, the contract and the core call it. */
  readonly name: string;
  /** Answers to requests, by their names in the contract. */
  readonly routes?: (services: Services) => Partial<Handlers>;
  /** What people outside and their machines reach, below `/out`. */
  readonly outside?: { readonly path: string; readonly router: (services: Services) => Router };
  /** Background work by the name of its kind. */
  readonly jobs?: (services: Services) => JobKinds;
  /** Long computation that a request waits for, by name; it runs in a thread of its own. */
  readonly heavy?: HeavyTasks;
  /** Short computation that a request waits for, by name; in another thread of its own, which bulk work does not hold up. */
  readonly quick?: HeavyTasks;
  /** Work of each day; asked for again and again, so each job has a key of that day. */
  readonly daily?: (services: Services, now: Instant) => Promise<readonly NewJob[]>;
  /** Rows nobody will ask for again, as DELETE statements with `:now` that end in `LIMIT ${sweptAtOnce}`. */
  readonly swept?: readonly string[];
}

/** The names of the requests that a list of features answers. */
export type Answered<List extends readonly Feature[]> = List[number] extends infer One
  ? One extends { readonly routes: (services: Services) => infer Given }
    ? Extract<keyof Given, EndpointName>
    : never
  : never;
