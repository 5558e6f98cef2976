import { signal } from '@angular/core';
import type { Resolved } from '@kettle/contract';
import { finalize, type Observable } from 'rxjs';
import { ApiProblem, problemOf } from '../api/api';

export type Choices = Readonly<Record<string, 'mine' | 'theirs'>>;

/** One form's way to the server: what was refused of it, and how a conflict with others was settled. */
export class Submission {
  readonly problem = signal<ApiProblem | null>(null);
  readonly sent = signal<object>({});
  readonly choices = signal<Choices>({});
  /** It is on its way: it goes once, however often it is pressed. */
  readonly isSending = signal(false);

  /** Sends a body once; a refusal stays to be read, with everything that was typed. */
  send<Body extends object, Reply>(
    body: Body,
    call: (body: Body & { resolved?: NonNullable<Resolved> }) => Observable<Reply>,
    done: (reply: Reply) => void,
  ): void {
    if (this.isSending()) return;
    this.isSending.set(true);
    call(this.bodyOf(body))
      .pipe(finalize(() => this.isSending.set(false)))
      .subscribe({
        next: (reply) => {
          this.clear();
          done(reply);
        },
        error: this.refuse,
      });
  }

  /** The body as it is sent, with what was chosen over the conflict before it. */
  bodyOf<Body extends object>(body: Body): Body & { resolved?: NonNullable<Resolved> } {
    this.sent.set(body);
    return { ...body, ...resolvedOf(this.problem(), this.choices()) };
  }

  readonly refuse = (error: unknown): void => {
    this.problem.set(problemOf(error));
    this.choices.set({});
  };

  clear(): void {
    this.problem.set(null);
    this.choices.set({});
  }
}

/** A list by the paths its conflicts are told at: `order`, and `stages.<id>.name` of `stages`. */
export const byPaths = (path: string, items: readonly { readonly id: string | null }[]): object => ({
  order: items.map(({ id }) => id),
  [path]: Object.fromEntries(items.map((each) => [each.id, each])),
});

/** A conflict with the record by the paths it is told at, for a record that is a list or holds one. */
export function conflictBy<Record>(
  problem: ApiProblem | null,
  pathsOf: (record: Record) => object,
): ApiProblem | null {
  if (problem?.code !== 'stale' || problem.current === undefined) return problem;
  const { code, message, fields, current } = problem;
  return new ApiProblem(code, message, fields, pathsOf(current as Record));
}

/** What was chosen, as the next save sends it; nothing while there is no conflict. */
export function resolvedOf(
  problem: ApiProblem | null,
  choices: Choices,
): { resolved?: NonNullable<Resolved> } {
  if (problem?.code !== 'stale' || problem.current === undefined) return {};
  const chosen = (whose: 'mine' | 'theirs') => Object.keys(choices).filter((path) => choices[path] === whose);
  const { version } = problem.current as { version: number };
  return { resolved: { version, mine: chosen('mine'), theirs: chosen('theirs') } };
}
