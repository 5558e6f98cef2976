import { fillIn, problems, type ProblemDetails } from '@kettle/contract';
import type { ErrorRequestHandler, Request } from 'express';
import type { ZodError } from 'zod';
import { errnoOf } from '../database/database';
import { languageOf, saidIn } from '../language/language';
import { Problem } from '../problem';

/** Answers every refusal and fault as problem details (RFC 9457); faults are logged here, once, without personal data. */
export const answerErrors: ErrorRequestHandler = (error: unknown, request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = problemOf(error);
  if (problem.status >= 500)
    request.log.error({ err: problem.cause ?? error, code: problem.code }, 'request failed');
  // RFC 6750, 3: whoever came with a key is told that it is the key.
  if (problem.code === 'key-not-valid') response.set('WWW-Authenticate', 'Bearer error="invalid_token"');
  response.status(problem.status).type('application/problem+json').json(detailsOf(problem, request));
};

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  const type = typeof error === 'object' && error !== null && 'type' in error ? error.type : undefined;
  if (type === 'entity.parse.failed') return new Problem('invalid-json');
  if (type === 'entity.too.large') return new Problem('too-large', { limit: '15 MB' });
  // What Express and its parsers cannot read: an address, a charset, an encoding, a form without end.
  if (isRefusedByParser(error)) return new Problem('unreadable-request', {}, { cause: error });
  // What it names was deleted while it was on its way, or never was.
  if (errnoOf(error) === 1452) return new Problem('not-found', {}, { cause: error });
  // A value that fits the contract and not its column is a fault of ours, but says which change was refused.
  if (errnoOf(error) === 4025) return new Problem('invalid-request', {}, { cause: error });
  return new Problem('internal', {}, { cause: error });
}

function isRefusedByParser(error: unknown): boolean {
  const status = typeof error === 'object' && error !== null && 'status' in error ? error.status : undefined;
  return typeof status === 'number' && status >= 400 && status < 500;
}

export function invalidRequest(error: ZodError, part: string): Problem {
  const fields = error.issues.map((issue) => ({
    path: [part === 'body' ? '' : part, ...issue.path.map(String)].filter(Boolean).join('.'),
    message: wordsOf(issue),
  }));
  return new Problem('invalid-request', {}, { fields });
}

function detailsOf(problem: Problem, request: Request): ProblemDetails {
  const language = languageOf(request);
  return {
    type: `urn:ash-kettle:problem:${problem.code}`,
    title: problem.code.replaceAll('-', ' '),
    status: problem.status,
    detail: fillIn(saidIn(language, problems[problem.code].sentence), problem.parameters),
    code: problem.code,
    requestId: String(request.id),
    ...(problem.fields
      ? { fields: problem.fields.map(({ path, message }) => ({ path, message: saidIn(language, message) })) }
      : {}),
    ...(problem.current === undefined ? {} : { current: problem.current }),
  };
}

/** A number out of its range, said as a person would; a schema that has words of its own keeps them. */
function wordsOf(issue: ZodError['issues'][number]): string {
  const { code, message } = issue;
  if (code !== 'too_small' && code !== 'too_big') return message;
  const isDefault = message.startsWith('Too small') || message.startsWith('Too big');
  if (!isDefault || !['number', 'int'].includes(issue.origin)) return message;
  const isOpen = issue.inclusive === false;
  if (code === 'too_small')
    return isOpen
      ? $localize`must be more than ${issue.minimum}:least:`
      : $localize`must be at least ${issue.minimum}:least:`;
  return isOpen
    ? $localize`must be less than ${issue.maximum}:most:`
    : $localize`must be at most ${issue.maximum}:most:`;
}
