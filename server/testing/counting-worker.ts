import { readEnvironment } from '../src/platform/environment';
import { newId } from '../src/platform/ids';
import { Worker } from '../src/platform/jobs/worker';
import { makeServices } from '../src/make-services';

/** A server reduced to its background work: each job leaves one mark in the database, slowly enough to be killed amid it. */
const services = makeServices(readEnvironment({ ...process.env, KETTLE_LOG: 'error' }));
const worker = new Worker({
  services,
  everyMillis: 50,
  kinds: {
    mark: {
      words: 'work',
      effect: 'database',
      run: async (w) => {
        w.note('setting', newId());
        await w.change("UPDATE setting SET version = version WHERE name = 'nothing'");
        await new Promise((resolve) => setTimeout(resolve, 5));
      },
    },
  },
});
worker.start();
process.on('SIGTERM', () => void worker.stop().then(() => services.database.close()));
