import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { startDatabase } from '../../scripts/database.mjs';
import { dataFolder } from '../../scripts/machine.mjs';
import { writeBeginnings } from './installation';

/** One database server for all journeys, with the demo written once; each journey has a schema of its own on it. */
export default async function start(): Promise<() => Promise<void>> {
  const database = await startDatabase('e2e', { isForTests: true });
  process.env.KETTLE_E2E_DATABASE = database.urlOf('');
  mkdirSync(dataFolder, { recursive: true });
  const beginnings = await writeBeginnings(database.urlOf(''));
  const keep = (name: string, script: string): string => {
    const file = path.join(dataFolder, name);
    writeFileSync(file, script);
    return file;
  };
  process.env.KETTLE_E2E_DEMO = keep('demo-schema.sql', beginnings.demo);
  process.env.KETTLE_E2E_EMPTY = keep('empty-schema.sql', beginnings.empty);
  return () => database.stop();
}
