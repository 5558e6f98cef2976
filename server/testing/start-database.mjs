import { startDatabase } from '../../scripts/database.mjs';

/** One database server for all route tests; each test file makes a schema of its own on it. */
export default async function start() {
  if (process.env.KETTLE_TEST_DATABASE) return;
  const database = await startDatabase('test', { isForTests: true });
  process.env.KETTLE_TEST_DATABASE = database.urlOf('');
  globalThis.kettleTestDatabase = database;
}
