import type { Logger } from 'pino';
import type { Channels } from './channels/channels';
import type { Clock } from './clock';
import type { Database } from './db/database';
import type { ChangeFeed } from './features/changes/feed';
import type { Calendars } from './features/settings/calendars';
import type { Settings } from './features/settings/settings';

/** What every use case may need, made once when the server starts. */
export interface Services {
  readonly database: Database;
  readonly clock: Clock;
  readonly feed: ChangeFeed;
  readonly calendars: Calendars;
  readonly settings: Settings;
  readonly channels: Channels;
  readonly log: Logger;
}
