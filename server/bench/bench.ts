import path from 'node:path';
import type { UserId } from '@kettle/contract';
import { migrate } from '../src/platform/database/migrate';
import { writingAt } from '../src/platform/work/work';
import { installCapture } from '../src/platform/work/capture';
import { writeDefaults } from '../src/defaults';
import { readEnvironment } from '../src/platform/environment';

import { benchAgreements } from './agreements';
import { benchAdvancing } from './cadences';
import { benchCalendar } from './calendar';
import { benchCrowd } from './crowd';
import { benchDeals } from './deals';
import { benchExports } from './exports';
import { benchForecast } from './forecast';
import { benchImport } from './imports';
import { benchPeople } from './people';
import { benchReports } from './reports';
import { benchRules } from './rules';
import { factStatements } from '../src/screens/round/read-facts';
import { computePriced, showRound } from '../src/screens/round/read-round';
import { addUser } from '../src/records/users/users';
import { bytesOf, idOf, type IdBytes } from '../src/platform/ids';
import { makeServices } from '../src/make-services';
import { candidateCount, load } from './load';
import { compare, print } from './measure';

const now = '2026-11-24T09:10:00.000Z';
const environment = readEnvironment({ ...process.env, KETTLE_NOW: now, KETTLE_LOG: 'silent' });
await migrate(environment.KETTLE_DATABASE_URL, path.join(import.meta.dirname, 'migrations'));
const services = makeServices(environment);
const { database } = services;
const only = process.env.KETTLE_BENCH_ONLY ?? '';
/** Parts that make their own data are measured alone in an empty installation. */
const isAlone = ['imports', 'crowd', 'calendar', 'agreements', 'rules', 'forecast'].includes(only);
const ownerId = await owner();
const parts: Readonly<Record<string, () => Promise<void> | void>> = {
  round: benchRound,
  people: () => benchPeople({ database, services, ownerId, now }),
  cadences: () => benchAdvancing({ database, services, now }),
  deals: () => benchDeals({ database, services, now }),
  crowd: () => benchCrowd(services, environment, now),
  calendar: () => benchCalendar({ database, services, ownerId, now }),
  agreements: () => benchAgreements({ database, services, ownerId, now }),
  rules: () => benchRules({ database, services, ownerId, now }),
  forecast: () => benchForecast({ database, services, environment, ownerId, now }),
  reports: () => benchReports({ database, services, ownerId, now }),
  exports: () => benchExports({ database, services, ownerId }),
  imports: () => benchImport(services, now),
};

for (const [name, bench] of Object.entries(parts)) if (only === '' || only === name) await bench();
await database.close();

/** The measured rep; the large installation is loaded once and kept for later runs. */
async function owner(): Promise<UserId> {
  const [known] = await database.rows<{ id: IdBytes<UserId> }>(
    "SELECT id FROM app_user WHERE email = 'bench@hollinbeck.example'",
  );
  if (known) return idOf(known.id);
  if (!isAlone) process.stderr.write('Loading 200,000 contacts and 2,000,000 journal entries …\n');
  await installCapture(database);
  await writeDefaults(services);
  const person = {
    role: 'rep',
    password: 'a long enough password',
    zone: 'Europe/London',
    country: 'GB',
  } as const;
  const w = writingAt(database, now);
  const id = await addUser(w, { ...person, name: 'Bench', email: 'bench@hollinbeck.example' });
  const other = await addUser(w, { ...person, name: 'Colleague', email: 'colleague@hollinbeck.example' });
  if (!isAlone) await load(services, id, other);
  return id;
}

async function benchRound(): Promise<void> {
  const today = now.slice(0, 10);
  const parameters = { owner: bytesOf(ownerId), today };
  const bareRound = () =>
    Promise.all(
      Object.values(factStatements).map((sql) =>
        database.rows(sql, { ...parameters, usualDeal: null, usualYearly: null }),
      ),
    );
  const filters = { limit: 150 };
  const cold = async () => showRound(database, await computePriced(services, ownerId), filters);
  const { ours, bare } = await compare(15, cold, bareRound);
  const { counts } = await cold();
  print({
    name: 'Round against the bare SQL that reads its candidates',
    value: ours,
    unit: 'ms',
    baseline: bare,
    ratio: ours / bare,
    aim: 2,
    note: `${counts.all} rows from ${candidateCount} people with something waiting, among 200,000 contacts and 2,000,000 entries`,
  });
}
