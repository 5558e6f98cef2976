import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread } from 'node:worker_threads';
import { serveThread } from './thread';
import { readEnvironment } from './platform/environment';
import { startServer } from './server';

const here = import.meta.dirname;

if (isMainThread) await serve();
else serveThread();

async function serve(): Promise<void> {
  try {
    const environment = readEnvironment(process.env);
    const server = await startServer(
      environment,
      environment.KETTLE_MIGRATIONS ?? path.join(here, 'migrations'),
      fileURLToPath(import.meta.url),
    );
    // The start command reads this line to know the server answers.
    process.stdout.write(`listening ${server.url}\n`);
    let stopping = false;
    for (const signal of ['SIGINT', 'SIGTERM'] as const)
      process.on(signal, () => {
        if (stopping) return;
        stopping = true;
        void server.stop().then(() => process.exit(0));
      });
  } catch (error) {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    process.exit(1);
  }
}
