import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { CallOf, EndpointName, FieldProblem, ProblemDetails, ReplyOf } from '@kettle/contract';
import { endpoints } from '@kettle/contract/endpoints';
import { catchError, type Observable, retry, throwError, timer } from 'rxjs';

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

const offline = 'The server cannot be reached. What you typed is kept; try again in a moment.';
const retriesWhenReading = 2;
const retryMillis = 400;

/** Calls any route of the contract by its name, with everything typed by the route table. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  call<Name extends EndpointName>(name: Name, call: CallOf<Name> = {}): Observable<ReplyOf<Name>> {
    const [method, path] = endpoints[name].split(' ') as [string, string];
    const { params, query, body } = call as { params?: object; query?: object; body?: unknown };
    const request = this.http.request<ReplyOf<Name>>(method, fillPath(path, params), {
      body,
      params: definedOnly(query),
    });
    return request.pipe(
      retry({
        count: method === 'GET' ? retriesWhenReading : 0,
        delay: (error: HttpErrorResponse, attempt) => {
          if (error.status !== 0 && error.status !== 503) throw error;
          return timer(retryMillis * attempt);
        },
      }),
      catchError((error: unknown) => throwError(() => problemOf(error))),
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
