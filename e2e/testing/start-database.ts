import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { startDatabase } from '../../scripts/database.mjs';
import { dataFolder } from '../../scripts/machine.mjs';
import { seedDemo } from './installation';

/** One database server for all journeys, with the demo written once; each journey has a schema of its own on it. */
export default async function start(): Promise<() => Promise<void>> {
  const database = await startDatabase('e2e', { isForTests: true });
  process.env.KETTLE_E2E_DATABASE = database.urlOf('');
  const file = path.join(dataFolder, 'demo-schema.sql');
  mkdirSync(dataFolder, { recursive: true });
  writeFileSync(file, await seedDemo(database.urlOf('')));
  process.env.KETTLE_E2E_DEMO = file;
  return () => database.stop();
}
