import type { Report } from '@kettle/contract';
import type { Services } from '../../platform/services';
import type { Facts } from './facts';
import type { Scope, Span } from './scope';

type DrawnAs = Report['drawn'];
export type SingleFigure = Report['figures'][number];

/** How a question is answered from facts. */
export interface Definition {
  /** What is counted, of a span of days. The first facts' records are the report's own. */
  facts(services: Services, scope: Scope, span: Span): Promise<readonly Facts[]> | readonly Facts[];
  readonly drawn: DrawnAs;
  /** What else must be known to read it. */
  notes?(scope: Scope): string[];
  /** Single figures beside the table. */
  figures?(services: Services, scope: Scope): Promise<SingleFigure[]>;
  /** How it is now: nothing is known of the past. */
  readonly isOfNow?: true;
  /** Every record of it is listed with words of its own. */
  wordsOf?(
    services: Services,
    scope: Scope,
    span: Span,
    ids: readonly string[],
  ): Promise<ReadonlyMap<string, string>>;
  /** A list of the application that shows a row's records. */
  pathOf?(scope: Scope, row: string): string | null;
}
