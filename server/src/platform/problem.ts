import { problems, sentenceOf, type FieldProblem, type ProblemCode } from '@kettle/contract';

export interface ProblemExtras {
  readonly fields?: readonly FieldProblem[];
  /** For `stale`: the record as it is now. */
  readonly current?: unknown;
  readonly cause?: unknown;
}

/** An expected refusal, as the catalogue words it. Thrown anywhere in a use case, answered at the edge. */
export class Problem extends Error {
  readonly status: number;
  readonly fields: readonly FieldProblem[] | undefined;
  readonly current: unknown;

  constructor(
    readonly code: ProblemCode,
    readonly parameters: Readonly<Record<string, string | number>> = {},
    extras: ProblemExtras = {},
  ) {
    super(sentenceOf(code, parameters), { cause: extras.cause });
    this.status = problems[code].status;
    this.fields = extras.fields;
    this.current = extras.current;
  }
}
