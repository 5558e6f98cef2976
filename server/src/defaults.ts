import { plainStep } from '@kettle/core/cadences';
import type { CadenceDefinition, StandingGroup } from '@kettle/contract';
import type { Queryable } from './platform/database/database';
import type { Services } from './platform/services';
import { insertCadence } from './processes/cadences/index';
import { bytesOf, idNamed } from './platform/ids';
import { work } from './platform/work/work';
import { takeTurn } from './platform/work/take-turn';

/** Ids of the records every installation starts with are derived from this, so that two servers write the same ones. */
const namespace = '5f0c7b1e-6f1d-4a53-9a3e-8f6f4b1c2d10';

const standings: readonly [string, StandingGroup, number | null, boolean?][] = [
  ['New', 'prospect', 7, true],
  ['In talks', 'prospect', 14],
  ['Customer', 'customer', 60],
  ['Key customer', 'customer', 30],
  ['Former customer', 'former', 120],
  ['Not a fit', 'former', null],
];

const stages: readonly [string, number, number][] = [
  ['Inquiry', 0.1, 10],
  ['Survey', 0.25, 14],
  ['Offer', 0.5, 14],
  ['Terms', 0.75, 10],
  ['Signed, to start', 0.9, 21],
];

const step = { windowStart: 9 * 60 + 30, windowEnd: 12 * 60, ...plainStep };

/** Call, e-mail by hand, call: what a new installation offers. */
export const firstCadence: CadenceDefinition = {
  answeredStep: null,
  steps: [
    {
      ...step,
      channel: 'call',
      offsetDays: 0,
      minutes: 6,
      purpose: 'introduce ourselves, ask what they use today',
      windowEnd: 17 * 60,
    },
    {
      ...step,
      channel: 'email',
      offsetDays: 1,
      minutes: 8,
      purpose: 'two personal sentences and one question',
    },
    {
      ...step,
      channel: 'call',
      offsetDays: 3,
      minutes: 6,
      purpose: 'did it arrive, when may we come by',
      windowEnd: 16 * 60,
    },
  ],
};

/** Standings, a pipeline and a cadence for an installation that has none; a second start adds nothing. */
export async function writeDefaults(services: Services): Promise<void> {
  await work(services, null, async (w) => {
    await takeTurn(w, 'defaults');
    const isSet = await w.rows('SELECT 1 FROM standing LIMIT 1');
    if (isSet.length > 0) return;
    await writeStandings(w);
    await writePipeline(w);
    await insertCadence(w, 'First contact', firstCadence);
  });
}

async function writeStandings(tx: Queryable): Promise<void> {
  await tx.change(
    'INSERT INTO standing (id, name, standing_group, check_in_days, position, is_default) VALUES :rows',
    {
      rows: standings.map(([name, group, days, isDefault], position) => [
        bytesOf(idNamed(`standing ${name}`, namespace)),
        name,
        group,
        days,
        position,
        isDefault === true ? 1 : 0,
      ]),
    },
  );
}

async function writePipeline(tx: Queryable): Promise<void> {
  const id = idNamed('pipeline', namespace);
  await tx.change("INSERT INTO pipeline (id, name, position) VALUES (:id, 'Sales', 0)", { id: bytesOf(id) });
  await tx.change(
    'INSERT INTO stage (id, pipeline_id, name, win_probability, patience_days, position) VALUES :rows',
    {
      rows: stages.map(([name, probability, patience], position) => [
        bytesOf(idNamed(`stage ${name}`, namespace)),
        bytesOf(id),
        name,
        probability,
        patience,
        position,
      ]),
    },
  );
}
