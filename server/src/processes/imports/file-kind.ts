import type { UserId } from '@kettle/contract';
import type { ImportColumn } from '@kettle/core/imports';
import type { WithKeys } from '../../platform/database/database';
import type { Services } from '../../platform/services';
import type { PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import type { Outcome, PlannedRow } from './judged-row';
import type { StoredImport } from './stored-import';

/** What a file is set against: whose eyes see it, and what it can name that is there. */
export interface Reading {
  readonly db: WithKeys;
  readonly services: Services;
  readonly who: SignedIn;
  readonly today: string;
  readonly stored: StoredImport;
  /** The organisation's own, ISO 4217. */
  readonly currency: string;
  /** Country for numbers without one, ISO 3166-1 alpha-2. */
  readonly homeCountry: string;
  /** What a column can hold; empty for people. */
  readonly columns: readonly ImportColumn[];
  readonly owners: ReadonlyMap<string, UserId>;
  readonly stages: ReadonlyMap<string, string>;
}

/** One of the things that a file can hold, and how its rows become records. */
export interface FileKind {
  /** So many rows are written in one go. */
  readonly rowsAtOnce: number;
  /** Names of the columns in which a row is shown. */
  heads(columns: readonly ImportColumn[]): readonly string[];
  /** What a row says, by the heads. */
  cells(draft: unknown, reading: Pick<Reading, 'columns' | 'currency' | 'today'>): readonly string[];
  /** Writes rows of a confirmed file, each judged anew; what one is refused for rolls back that one alone. */
  write(w: PersonWork, reading: Reading, rows: readonly PlannedRow[]): Promise<ReadonlyMap<number, Outcome>>;
}
