import { computed, DestroyRef, inject, signal, type Signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { catchError, map, type Observable, of, startWith, Subject, switchMap } from 'rxjs';
import { problemOf } from './api';
import { idle, shownOf, type Loaded } from './loaded';

/** A value read from the server as a signal: `read` starts a reading and drops the one before it. */
export interface Reading<Input, Value> {
  readonly state: Signal<Loaded<Value>>;
  readonly value: Signal<Value | null>;
  read(input: Input): void;
  again(): void;
  /** Shows a value at once, before the server has confirmed it. */
  put(value: Value): void;
}

/** Reads what nobody has asked for yet, or what failed: parts that need the same at once ask once. */
export function wake(...readings: readonly Reading<null, unknown>[]): void {
  for (const read of readings) {
    const { kind } = untracked(read.state);
    if (kind === 'idle' || kind === 'failed') read.read(null);
  }
}

/** Made where injection works (a constructor or a field); ends with its owner. */
export function reading<Input, Value>(ask: (input: Input) => Observable<Value>): Reading<Input, Value> {
  const state = signal<Loaded<Value>>(idle);
  const asked = new Subject<Input>();
  let last: { input: Input } | null = null;
  asked
    .pipe(
      switchMap((input) => {
        // A reading may be started inside an effect, which must not come to depend on its result.
        const before = shownOf(untracked(state));
        return ask(input).pipe(
          map((value): Loaded<Value> => ({ kind: 'ready', value })),
          startWith<Loaded<Value>>({ kind: 'loading', before }),
          catchError((error: unknown) =>
            of<Loaded<Value>>({ kind: 'failed', problem: problemOf(error), before }),
          ),
        );
      }),
      takeUntilDestroyed(inject(DestroyRef)),
    )
    .subscribe((next) => state.set(next));
  return {
    state: state.asReadonly(),
    value: computed(() => shownOf(state())),
    read: (input) => {
      last = { input };
      asked.next(input);
    },
    again: () => {
      if (last !== null) asked.next(last.input);
    },
    put: (value) => state.set({ kind: 'ready', value }),
  };
}
