import { makeChannels } from './channels';
import { heavyTasks, quickTasks } from './features';
import { follows } from './follows';
import { ChangeFeed } from './platform/change-feed/feed';
import { makeClock, type Clock } from './platform/clock';
import { openDatabase, type DatabaseLimits } from './platform/database/database';
import { readKeyFile } from './platform/database/keys';
import { makeLog } from './platform/log';
import type { Environment } from './platform/environment';
import { heavyHere } from './platform/heavy';
import type { Services } from './platform/services';
import { readConcerned } from './records/rights/index';
import { Calendars, Settings } from './records/settings/index';

/** What every use case may need, as the installation's settings say; heavy tasks run in the caller's own thread. */
export function makeServices(
  environment: Environment,
  limits: DatabaseLimits = {},
  clock: Clock = makeClock(environment.KETTLE_NOW),
): Services {
  const database = openDatabase(environment.KETTLE_DATABASE_URL, {
    ...limits,
    keys: readKeyFile(environment.KETTLE_KEY_FILE),
  });
  const services: Services = {
    database,
    clock,
    feed: new ChangeFeed(database, readConcerned),
    calendars: new Calendars(clock),
    settings: new Settings(),
    channels: makeChannels(environment),
    follows,
    heavy: heavyHere(heavyTasks(), () => services),
    quick: heavyHere(quickTasks(), () => services),
    log: makeLog(environment.KETTLE_LOG),
  };
  return services;
}
