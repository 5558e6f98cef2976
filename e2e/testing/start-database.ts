import { startDatabase } from '../../scripts/database.mjs';

/** One database server for all journeys; each makes a schema of its own on it. */
export default async function start(): Promise<() => Promise<void>> {
  const database = await startDatabase('e2e', { isForTests: true });
  process.env.KETTLE_E2E_DATABASE = database.urlOf('');
  return () => database.stop();
}
