import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { CallOf, EndpointName, FieldProblem, ProblemDetails, ReplyOf } from '@kettle/contract';
import { endpoints } from '@kettle/contract/endpoints';
import {
  catchError,
  defer,
  lastValueFrom,
  map,
  type Observable,
  of,
  ReplaySubject,
  retry,
  share,
  tap,
  throwError,
  timer,
} from 'rxjs';
import { v7 } from 'uuid';
import { Presence } from './presence';
import { SessionEnd } from './session-end';

/** A refusal or failure, in a sentence that says what to do. */
export class ApiProblem extends Error {
  constructor(
    readonly code: string,
    sentence: string,
    readonly fields: readonly FieldProblem[] = [],
    /** For `stale`: the record as it is now. */
    readonly current: unknown = undefined,
  ) {
    super(sentence);
  }

  /** What is wrong with one field, by its path. */
  of(path: string): string | null {
    return this.fields.find((field) => field.path === path)?.message ?? null;
  }
}

const offline = $localize`The server cannot be reached. What you typed is kept; try again in a moment.`;
/** Problems after which nobody knows whether a change was made. */
const unanswered = new Set(['offline', 'database-away', 'internal']);
const notModified = 304;
/** How long what one changed oneself may take to be heard of. */
const latelyMillis = 3000;
const mostTagged = 12;
const retriesWhenReading = 2;
const retryMillis = 400;

/** Calls any route of the contract by its name, with everything typed by the route table. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);
  private readonly presence = inject(Presence);
  private readonly sessionEnd = inject(SessionEnd);
  /** The last replies that came with a tag, by what was asked: one that still stands is not sent again. Gone with the page. */
  private readonly tagged = new Map<string, { readonly tag: string; readonly reply: unknown }>();
  /** When the last change of this page was made, by the page's own clock. */
  private madeAt = -Infinity;
  /** Changes on their way, and those that nobody answered, by what was asked. */
  private readonly changes = new Map<string, { id: string; reply: Observable<unknown> | null }>();

  /**
   * @param changeId the id a change is sent under, for a caller that offers to undo it; made here otherwise
   *
   * The same change asked for again while it is on its way is that one change; asked for again after nobody answered, it goes under the id
   * it had, so that it is made once whether the first one arrived or not.
   */
  call<Name extends EndpointName>(
    name: Name,
    call: CallOf<Name> = {},
    changeId?: string,
  ): Observable<ReplyOf<Name>> {
    if (endpoints[name].startsWith('GET ')) return this.send(name, call);
    return defer(() => {
      const key = JSON.stringify([name, call]);
      const known = this.changes.get(key);
      if (known?.reply) return known.reply as Observable<ReplyOf<Name>>;
      const id = changeId ?? known?.id ?? v7();
      const reply = this.send(name, call, id).pipe(
        tap({
          next: () => {
            this.madeAt = performance.now();
            this.changes.delete(key);
          },
          error: (problem: ApiProblem) => {
            if (unanswered.has(problem.code)) this.changes.set(key, { id, reply: null });
            else this.changes.delete(key);
          },
        }),
        share({ connector: () => new ReplaySubject(1), resetOnRefCountZero: false }),
      );
      this.changes.set(key, { id, reply });
      return reply;
    });
  }

  /** Once no change is on its way any more, and whoever asked for the last one has had its answer. */
  async settled(): Promise<void> {
    for (;;) {
      const replies = [...this.changes.values()].flatMap(({ reply }) => (reply === null ? [] : [reply]));
      if (replies.length === 0) return;
      await Promise.all(replies.map((reply) => lastValueFrom(reply.pipe(catchError(() => of(null))))));
      await new Promise((resolve) => setTimeout(resolve));
    }
  }

  /** Whether somebody changed something here in the last moments: what is heard of now is most likely that. */
  hasChangedLately(): boolean {
    return performance.now() - this.madeAt < latelyMillis;
  }

  private remember(asked: string, known: { readonly tag: string; readonly reply: unknown }): void {
    this.tagged.delete(asked);
    this.tagged.set(asked, known);
    const [oldest] = this.tagged.keys();
    if (this.tagged.size > mostTagged) this.tagged.delete(oldest!);
  }

  private send<Name extends EndpointName>(
    name: Name,
    call: CallOf<Name>,
    changeId?: string,
  ): Observable<ReplyOf<Name>> {
    const [method, path] = endpoints[name].split(' ') as [string, string];
    const { params, query, body } = call as { params?: object; query?: object; body?: unknown };
    const url = fillPath(path, params);
    const asked = `${url} ${JSON.stringify(definedOnly(query))}`;
    const known = method === 'GET' ? this.tagged.get(asked) : undefined;
    const request = this.http.request<ReplyOf<Name>>(method, url, {
      body,
      observe: 'response',
      params: definedOnly(query),
      headers: {
        ...(known === undefined ? {} : { 'If-None-Match': known.tag }),
        ...(changeId === undefined ? {} : { 'X-Change-Id': changeId }),
        // A page that reads again because others changed something does not keep its session.
        ...(method === 'GET' && this.presence.isIdle() ? { 'X-Idle': '1' } : {}),
      },
    });
    return request.pipe(
      map((response) => {
        const tag = response.headers.get('ETag');
        if (method === 'GET' && tag !== null) this.remember(asked, { tag, reply: response.body });
        return response.body!;
      }),
      catchError((error: unknown) => {
        if (known !== undefined && error instanceof HttpErrorResponse && error.status === notModified)
          return of(known.reply as ReplyOf<Name>);
        return throwError(() => error);
      }),
      retry({
        count: method === 'GET' ? retriesWhenReading : 0,
        delay: (error: HttpErrorResponse, attempt) => {
          if (error.status !== 0 && error.status !== 503) throw error;
          return timer(retryMillis * attempt);
        },
      }),
      catchError((error: unknown) => {
        const problem = problemOf(error);
        if (problem.code === 'not-signed-in') this.sessionEnd.tell();
        return throwError(() => problem);
      }),
    );
  }
}

function fillPath(path: string, params: object | undefined): string {
  return path.replace(/:(\w+)/g, (_, name: string) =>
    encodeURIComponent(String((params as Record<string, unknown> | undefined)?.[name] ?? '')),
  );
}

function definedOnly(query: object | undefined): Record<string, string> {
  const known = Object.entries(query ?? {}).filter(
    ([, value]) => value !== undefined && value !== null && value !== '',
  );
  return Object.fromEntries(known.map(([key, value]) => [key, String(value)]));
}

export function problemOf(error: unknown): ApiProblem {
  if (error instanceof ApiProblem) return error;
  if (!(error instanceof HttpErrorResponse) || error.status === 0) return new ApiProblem('offline', offline);
  const details = error.error as Partial<ProblemDetails> | null;
  if (typeof details?.detail !== 'string') return new ApiProblem('internal', offline);
  return new ApiProblem(details.code ?? 'internal', details.detail, details.fields, details.current);
}
