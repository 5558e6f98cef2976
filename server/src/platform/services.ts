import type { Logger } from 'pino';
import type { Channels } from './channels';
import type { Clock } from './clock';
import type { Database } from './database/database';
import type { Heavy } from './heavy';
import type { ChangeFeed } from './change-feed/feed';
import type { Calendars, Settings } from '../records/settings/index';
import type { Follows } from './work/work';

/** What every use case may need, made once when the server starts. */
export interface Services {
  readonly database: Database;
  readonly clock: Clock;
  readonly feed: ChangeFeed;
  readonly calendars: Calendars;
  readonly settings: Settings;
  readonly channels: Channels;
  /** What follows from written rows, as the composition root lists it. */
  readonly follows: Follows;
  /** Where long computation runs that a request waits for: behind the bulk work at hand. */
  readonly heavy: Heavy;
  /** Where short computation runs that a request waits for: behind nothing long. */
  readonly quick: Heavy;
  readonly log: Logger;
}
