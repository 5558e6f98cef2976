import { pino } from 'pino';
import { makeClock } from '../src/platform/clock';
import { openDatabase } from '../src/platform/database/database';
import { noteChange } from '../src/platform/change-feed/feed';
import { newId } from '../src/platform/ids';
import { Worker } from '../src/platform/jobs/worker';

/** A server reduced to its background work: each job leaves one mark in the database, slowly enough to be killed amid it. */
const database = openDatabase(process.env.KETTLE_DATABASE_URL ?? '');
const worker = new Worker({
  database,
  clock: makeClock(),
  log: pino({ level: 'error' }),
  everyMillis: 50,
  kinds: {
    mark: {
      effect: 'database',
      run: async (tx) => {
        await noteChange(tx, 'setting', newId(), null);
        await new Promise((resolve) => setTimeout(resolve, 5));
      },
    },
  },
});
worker.start();
process.on('SIGTERM', () => void worker.stop().then(() => database.close()));
