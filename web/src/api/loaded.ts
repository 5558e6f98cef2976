import type { ApiProblem } from './api';

/** The state of something that is read from the server. */
export type Loaded<Value> =
  | { readonly kind: 'idle' }
  | { readonly kind: 'loading'; readonly before: Value | null }
  | { readonly kind: 'ready'; readonly value: Value }
  | { readonly kind: 'failed'; readonly problem: ApiProblem; readonly before: Value | null };

export const idle = { kind: 'idle' } as const;

/** What can be shown: the value, or the one from before while a newer one is on its way or failed. */
export function shownOf<Value>(loaded: Loaded<Value>): Value | null {
  switch (loaded.kind) {
    case 'idle':
      return null;
    case 'ready':
      return loaded.value;
    case 'loading':
    case 'failed':
      return loaded.before;
  }
}
